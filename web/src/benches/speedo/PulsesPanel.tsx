import type { SpeedoRequest } from "../../api/client";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { change, fixed } from "../../format/numbers";
import { AnswerPlate } from "../answer";
import type { PanelProps, SpeedoForm, useSpeedo } from "./model";
import { Programmer } from "./Programmer";
import classes from "./speedo.module.css";

type Props = PanelProps & { ask: SpeedoRequest; result: ReturnType<typeof useSpeedo>; missing: (string | false)[] };

/** The calibration of an electronic speedometer. */
export function PulsesPanel({ form: f, set, unit, ask, result, missing }: Props) {
  const { answer, refused, error } = result;
  const e = answer?.electronic;
  const b = bind<SpeedoForm, NonNullable<SpeedoRequest["electronic"]>>(f, set, refused, { at: "/electronic" });
  return (
    <div className="stack">
      <div className={`${classes.fields} no-print`}>
        {b.text("Tone ring teeth", "reluctor", { description: "pulses a turn of its shaft", numeric: true })}
        {b.text("Calibration now", "calibrated", { description: "leave blank if not known", numeric: true })}
        {b.choice("pulses per", "calPer", ["km", "mile"], { field: null, description: "as the unit counts" })}
      </div>
      {!e ? (
        <Waiting
          title="Which calibration?"
          missing={[...missing, !f.reluctor.trim() && "tone ring teeth: count them, or see the maker's manual"]}
          error={error}
        />
      ) : (
        <AnswerPlate>
          <div>
            <p className="decide-kicker">Calibration</p>
            <h2>{e.text}</h2>
            <small>{e.formula}</small>
          </div>
          <dl className={classes.numbers}>
            <div>
              <dt>a km</dt>
              <dd>{fixed(e.pulses_per_km.decimal, 1)}</dd>
            </div>
            <div>
              <dt>a mile</dt>
              <dd>{fixed(e.pulses_per_mile.decimal, 1)}</dd>
            </div>
            {e.factor && (
              <div>
                <dt>correction factor</dt>
                <dd>{fixed(e.factor.decimal, 5)}</dd>
              </div>
            )}
            {e.percent_now !== undefined && (
              <div>
                <dt>reads now</dt>
                <dd>{change(e.percent_now, 2)}</dd>
              </div>
            )}
          </dl>
        </AnswerPlate>
      )}
      <details className="decide-box no-print" open={Boolean(f.pickupDrive || f.pickupDriven || f.toolRatios)}>
        <summary>A driven gear turns the speed sensor, or the tool takes listed figures only</summary>
        <div className={classes.fields}>
          {b.text("Pickup: drive gear", "pickupDrive", {
            field: "drive",
            description: "leave blank if it sits on the shaft",
            numeric: true,
          })}
          {b.text("Pickup: driven gear", "pickupDriven", {
            field: "driven",
            description: "pulses are then per turn of it",
            numeric: true,
          })}
        </div>
        {b.text("The tool's axle ratios", "toolRatios", {
          field: "tool/ratios",
          placeholder: "3.08 3.42 3.73 4.10 4.56",
        })}
        <div className="four">
          {b.text("Tires from", "toolFrom", { field: "tool/from", numeric: true })}
          {b.text("to", "toolTo", { field: "tool/to", numeric: true })}
          {b.text("in steps of", "toolStep", { field: "tool/step", placeholder: "1", numeric: true })}
          {b.choice("Unit", "toolUnit", ["inch", "mm"], { field: null })}
        </div>
        {e?.entries && (
          <>
            <h3>Settings that never read low</h3>
            {e.entries.length === 0 && (
              <p>None: every setting of this tool would read low here. Use another tool, or correct by pulses.</p>
            )}
            <ol>
              {e.entries.map((x) => (
                <li key={x.text}>{x.text}</li>
              ))}
            </ol>
          </>
        )}
      </details>
      <Programmer
        unit={unit}
        wanted={e && Math.round(e.pulses_per_km.decimal)}
        ask={ask}
        onRead={(n) => set({ calibrated: String(n), calPer: "km" })}
      />
    </div>
  );
}
