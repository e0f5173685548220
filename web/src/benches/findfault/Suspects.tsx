import type { FaultAnswer, FaultSuspect } from "../../api/client";
import { capital, chance } from "../../format/numbers";
import { AnswerPlate } from "../answer";
import classes from "./findfault.module.css";

/** The one sentence, and every suspect, as strong as it is likely; before anything is told, by how often it breaks. */
export function Suspects({ answer, told }: { answer: FaultAnswer; told: boolean }) {
  return (
    <>
      <AnswerPlate>
        <div>
          {!told && <p className="decide-kicker">What breaks most often on a layout like this</p>}
          <h2>{answer.sentence}</h2>
          {answer.clashes.map((c) => (
            <p key={c}>△ {c}</p>
          ))}
          {answer.normal
            .filter((c) => !answer.sentence.includes(c))
            .map((c) => (
              <p key={c}>{c}</p>
            ))}
        </div>
      </AnswerPlate>
      <ol className={classes.suspects}>
        {answer.suspects
          .filter((s) => s.probability >= 0.01)
          .slice(0, 8)
          .map((s) => (
            <li key={s.id}>
              <details>
                <summary>
                  <span className={classes.bar} style={{ width: `${Math.max(2, s.probability * 100)}%` }} />
                  {capital(s.name)} <b>{chance(s.probability)}</b>
                </summary>
                <Speaks suspect={s} />
              </details>
            </li>
          ))}
      </ol>
      {answer.pairs.map((p) => (
        <p key={p.a + p.b} className="dim">
          Both at once: {p.a}, and {p.b} ({chance(p.probability)})
        </p>
      ))}
    </>
  );
}

/** What you found that a suspect explains, what it would have shown otherwise, and where it comes from. */
export function Speaks({ suspect: s }: { suspect: FaultSuspect }) {
  return (
    <>
      {s.for.map((f) => (
        <p key={f}>+ {f}</p>
      ))}
      {s.against.map((f) => (
        <p key={f}>− {f}</p>
      ))}
      {s.for.length + s.against.length === 0 && <p>No evidence yet.</p>}
      <p className="dim">Comes from: {s.how}.</p>
    </>
  );
}
