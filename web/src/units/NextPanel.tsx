import type { StageSummary, Unit } from "../api/client";
import { StateMark } from "../drawing/StateMark";
import classes from "./unit.module.css";

const leading = ["ring_and_pinion", "two_stage", "gearcase"];

/** What is open on a unit: contradictions first, then what isn't sure, then what nobody measured. */
export function NextPanel({ unit, onPart }: { unit: Unit; onPart: (id: string) => void }) {
  const present = unit.stages.filter((s) => s.present);
  const open = [
    ...present.filter((s) => s.state === "conflict" || s.trouble),
    ...present.filter((s) => s.state === "assumed"),
    ...present.filter((s) => s.state === "unknown" && !s.trouble && leading.includes(s.question.kind)),
  ];
  const measured = present.filter((s) => s.state === "measured").length;
  return (
    <div className="stack tight">
      <h2>What is open</h2>
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
        <p>{measured > 0 ? "Nothing contradicts and nothing is only assumed." : "Nothing of it is measured yet."}</p>
      )}
      <p className="dim">
        Choose a part of the machine to measure it or to say what was fitted. Arrow keys walk along the power.
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
