import type { Doc, FaultAnswer } from "../../api/client";
import { chance, minutes } from "../../format/numbers";
import { useShop } from "../../shop/useShop";
import { Cautions } from "../answer";
import classes from "./findfault.module.css";

/** What to open and to have ready, what to adjust before, and how it may be moved. */
export function Verdict({ answer, doc, ended }: { answer: FaultAnswer; doc: Doc; ended: boolean }) {
  return (
    <>
      {answer.advice.length > 0 && (
        <>
          <h2>Before you open anything</h2>
          <ul>
            {answer.advice.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
        </>
      )}
      {ended && answer.open.length > 0 && (
        <>
          <h2>Open in this order</h2>
          <ol className={classes.open}>
            {answer.open.map((o) => (
              <li key={o.what}>
                <b>{o.what}</b>
                <small>
                  about {minutes(o.minutes)}; finds it in {chance(o.share)}: {o.finds.join("; ")}
                </small>
                <small>Have ready: {o.ready.join(", ")}.</small>
                {o.gears && <OnShelf doc={doc} part={o.part} />}
              </li>
            ))}
          </ol>
        </>
      )}
      {answer.drive.length > 0 && (
        <>
          <h2>May it be moved?</h2>
          <ul className="decide-cautions">
            {answer.drive.map((w) => (
              <li key={w}>{w}</li>
            ))}
            {answer.tow.map((t) => (
              <li key={t.on}>{t.sentence}</li>
            ))}
          </ul>
        </>
      )}
      <Cautions list={answer.cautions} />
    </>
  );
}

/** The shop's own gear sets for a part. */
function OnShelf({ doc, part }: { doc: Doc; part: string }) {
  const sets = useShop("gear_sets");
  const family = doc.parts.find((p) => p.id === part)?.family;
  const fitting = sets.filter((s) => family && s.family === family);
  if (fitting.length === 0) return null;
  return (
    <small>
      In the shop's lists for {family}:{" "}
      {fitting
        .slice(0, 6)
        .map(
          (s) =>
            `${s.teeth}${s.label ? ` (${s.label})` : ""}, ${Number(s.shelf) > 0 ? `${s.shelf} on the shelf` : "to be ordered"}`,
        )
        .join("; ")}
      .
    </small>
  );
}
