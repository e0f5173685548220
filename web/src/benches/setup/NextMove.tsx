import { Button } from "@mantine/core";
import { IconArrowRight } from "@tabler/icons-react";
import type { SetupAxle, SetupVerdict } from "../../api/client";
import { AnswerPlate, Cautions } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { Checks } from "./Checks";
import { Housing } from "./Housing";
import type { Form, Trial } from "./model";
import classes from "./setup.module.css";
import { Tooth } from "./Tooth";

type Props = { verdict: SetupVerdict; form: Form; axle: SetupAxle; unit?: number; again: () => void };

/** What to move next, drawn, and what stands behind it. */
export function NextMove({ verdict: v, form, axle, unit, again }: Props) {
  return (
    <>
      <Plate verdict={v} />
      {(!v.first_look || form.ring_side) && (
        <Housing verdict={v} ringSide={form.ring_side} inches={form.unit === "in"} />
      )}
      <div className={classes.teeth}>
        <Expected verdict={v} name="Drive side, then" trial={form.trials[form.trials.length - 1]} flank="drive" />
        <Checks verdict={v} />
      </div>
      <div className="row wrap no-print">
        <KeepWithUnit
          unit={unit}
          record={{ kind: "setup", setup: { axle } }}
          loose="Saved on this device. With a unit, others see it too."
        >{`Save trial ${form.trials.length} with the unit`}</KeepWithUnit>
        {v.next && v.next.changes.length > 0 && (
          <Button variant="default" rightSection={<IconArrowRight size={16} />} onClick={again}>
            Assembled as proposed
          </Button>
        )}
      </div>
      <details>
        <summary>Where the numbers come from</summary>
        <ul className={classes.laws}>
          {v.laws.map((l) => (
            <li key={l.name}>
              <b>{l.name}:</b> {l.text}
            </li>
          ))}
          {v.figures.map((f) => (
            <li key={f.figure}>
              <b>{f.name}:</b> {f.low > 0 && f.low !== f.high ? `${f.low} to ` : ""}
              {f.high} {f.unit} ({f.from})
            </li>
          ))}
        </ul>
      </details>
      <Cautions list={v.cautions} />
    </>
  );
}

const states: Record<string, string> = {
  ask: "? Check first",
  cure: "△ Shims won't fix this",
  move: "→ Next move",
  good: "✓ Good",
};

function Plate({ verdict: v }: { verdict: SetupVerdict }) {
  const move = v.state === "move" && v.next?.head ? v.next : undefined;
  return (
    <AnswerPlate>
      <div>
        <p className="decide-kicker">
          {states[v.state]}, after {v.results.length === 1 ? "1 trial" : `${v.results.length} trials`}
        </p>
        <h2>{move?.head ?? v.sentence}</h2>
        {move && (
          <>
            {move.preload.map((p) => (
              <p key={p}>{p}</p>
            ))}
            <p>{move.text.slice(move.head.length + 1)}</p>
          </>
        )}
        {v.more.map((m) => (
          <p key={m} className="decide-sure">
            {m}
          </p>
        ))}
        {v.asks.map((a) => (
          <p key={a} className="decide-sure">
            <b>?</b> {a}
          </p>
        ))}
      </div>
    </AnswerPlate>
  );
}

type ExpectedProps = { verdict: SetupVerdict; name: string; trial?: Trial; flank: "drive" | "coast" };

function Expected({ verdict: v, name, trial, flank }: ExpectedProps) {
  const next = v.next;
  const spot = trial?.[flank];
  const now = v.results[v.results.length - 1];
  if (!spot)
    return (
      <p className="dim">No pattern yet: paint a few teeth, turn the gears against a brake, then tap where it shows.</p>
    );
  // Both flanks move by what the mean does.
  const then =
    next?.height &&
    next.length &&
    now?.height !== undefined &&
    now.length !== undefined &&
    (next.pinion_mm !== 0 || next.ring_mm !== 0)
      ? {
          height: spot.height + next.height.value - now.height,
          length: spot.length + next.length.value - now.length,
          spread: next.height.spread,
        }
      : undefined;
  return (
    <div>
      <Tooth name={then ? name : "Drive side"} toeLeft={flank === "drive"} spot={spot} then={then} />
      {then && next?.backlash_mm && <small className="dim">dashed: expected after the move</small>}
    </div>
  );
}
