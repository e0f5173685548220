import type { StageSummary, Unit } from "../api/client";
import { StateMark } from "../drawing/StateMark";
import { openStages } from "./open";
import classes from "./unit.module.css";

/** What is open on a unit, and where to go on. */
export function NextPanel({ unit, onPart }: { unit: Unit; onPart: (id: string) => void }) {
  const open = openStages(unit);
  const measured = unit.stages.some((s) => s.present && s.state === "measured");
  return (
    <div className="stack tight">
      <h2>Open items</h2>
      {open.length > 0 ? (
        <ul className={classes.ratios}>
          {open.map((s) => (
            <li key={s.id}>
              <button type="button" onClick={() => onPart(s.part)}>
                <span>{s.name}</span>
                <StateMark state={s.state} />
                <small className="dim">{s.trouble ?? words(s)}</small>
              </button>
            </li>
          ))}
        </ul>
      ) : (
        <p>
          {measured ? "Nothing open: no readings contradict, and no ratio is only assumed." : "Nothing measured yet."}
        </p>
      )}
      <p className="dim">
        Tap a part of the machine to measure it or to enter what was fitted. Arrow keys follow the power.
      </p>
    </div>
  );
}

function words(s: StageSummary): string {
  switch (s.state) {
    case "conflict":
      return "readings contradict each other";
    case "assumed":
      return `${s.label?.label ?? s.about ?? "?"}, not sure yet`;
    default:
      return "not measured";
  }
}
