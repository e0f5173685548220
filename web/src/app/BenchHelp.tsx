import { useLocation } from "react-router";
import type { Bench } from "../benches/bench";
import { benches } from "../benches/registry";
import { Term } from "../words/Term";

/** The bench that an address shows. */
function benchAt(path: string): Bench | undefined {
  if (path.startsWith("/count/") || path.startsWith("/stages/")) return benches.find((b) => b.id === "identify");
  return benches.find(
    (b) => path === b.loose.path || (b.unit && new RegExp(`^/units/\\d+/${b.unit.path}$`).test(path)),
  );
}

/** How the bench in front is worked: its steps, where the trade differs, what to heed, an example. */
export function BenchHelp() {
  const bench = benchAt(useLocation().pathname);
  if (!bench) return null;
  const { steps, schools, caution, words, example } = bench.help;
  return (
    <section aria-label="How this bench works">
      <h2>{bench.title}: how it is done</h2>
      {bench.offer && (
        <svg viewBox="0 0 120 80" width={150} className="glyph" aria-hidden="true">
          {bench.offer.picture}
        </svg>
      )}
      <ol>
        {steps.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ol>
      <ul className="decide-cautions">
        <li>{caution}</li>
      </ul>
      {schools && (
        <p>
          <b>Two schools.</b> {schools}
        </p>
      )}
      <p>
        <b>Example.</b> {example}
      </p>
      <p>
        <b>Words.</b>{" "}
        {words.map((w, i) => (
          <span key={w}>
            {i > 0 && " · "}
            <Term find={w}>{w}</Term>
          </span>
        ))}
      </p>
    </section>
  );
}
