import { Checkbox, NativeSelect, Textarea } from "@mantine/core";
import type { Refused, SetupAxle, SetupMade, SetupResult } from "../../api/client";
import { bind } from "../../form/bind";
import type { Form, Trial } from "./model";
import { RingPlaces } from "./RingPlaces";
import classes from "./setup.module.css";
import { Tooth } from "./Tooth";

type Props = {
  form: Form;
  set: (v: Partial<Form>) => void;
  at: number;
  trial: Trial;
  put: (v: Partial<Trial>) => void;
  refused?: Refused;
  result?: SetupResult;
  /** It may be mistyped: whether it was looked at again is asked. */
  doubted: boolean;
};

/** One trial: what the dial and the teeth show, then the shims that are in it. */
export function TrialFields({ form, set, at, trial, put, refused, result, doubted }: Props) {
  const t = bind<Trial, SetupMade>(trial, put, refused, { at: `/axle/trials/${at}` });
  return (
    <>
      <div className={classes.two}>
        {t.text("Backlash around the ring", "backlash", {
          placeholder: form.unit === "in" ? "0.009 0.010 0.011 0.010" : "0.24 0.25 0.27 0.26",
          description: "Start at the mark; - where none was taken",
        })}
        {result?.backlash ? <RingPlaces around={result.backlash} /> : <span />}
      </div>
      {result && result.told.length > 0 && (
        <ul className={classes.told}>
          {result.told.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      )}
      <div className={classes.teeth}>
        <Tooth name="Drive side" toeLeft spot={trial.drive} onSpot={(drive) => put({ drive })} />
        <Tooth name="Coast side" toeLeft={false} spot={trial.coast} onSpot={(coast) => put({ coast })} />
      </div>
      <Shims form={form} set={set} trial={trial} put={put} at={at} refused={refused} />
      <Preload form={form} set={set} trial={trial} put={put} at={at} refused={refused} />
      {(trial.sure || doubted) && (
        <Checkbox
          label="Checked again: it is as typed"
          checked={trial.sure}
          onChange={(e) => put({ sure: e.currentTarget.checked })}
        />
      )}
    </>
  );
}

type GroupProps = Pick<Props, "form" | "set" | "trial" | "put" | "at" | "refused">;

/** The shims installed, and what a thicker one does: with them the answer names stacks. */
function Shims({ form, set, trial, put, at, refused }: GroupProps) {
  const t = bind<Trial, SetupMade>(trial, put, refused, { at: `/axle/trials/${at}` });
  const f = bind<Form, SetupAxle>(form, set, refused, { at: "/axle" });
  return (
    <fieldset className="decide-box">
      <legend>Shims installed, for exact stacks</legend>
      <div className={classes.three}>
        {t.text("Depth shims", "pinion", { placeholder: form.unit === "in" ? "0.031 + 0.016" : "0.80 + 0.40" })}
        {t.text("Left shims", "left", { placeholder: form.unit === "in" ? "0.043" : "1.10" })}
        {t.text("Right shims", "right", { placeholder: form.unit === "in" ? "0.041" : "1.05" })}
      </div>
      <div className={classes.two}>
        {f.choice("Ring gear sits on the", "ring_side", [
          { value: "", label: "…" },
          { value: "left", label: "left of the housing" },
          { value: "right", label: "right of the housing" },
        ])}
        {f.choice("Thicker depth shim moves the pinion", "pinion_thicker", [
          { value: "", label: "…" },
          { value: "in", label: "in, toward the ring gear's axis" },
          { value: "out", label: "out" },
        ])}
      </div>
      <Textarea
        label="Shims on the shelf"
        description="0.05 x4, 0.10 x6, .004in x2; shims in the axle count too"
        autosize
        minRows={1}
        value={form.box}
        onChange={(e) => set({ box: e.currentTarget.value })}
        error={refused?.within("/axle/box") ?? refused?.field("/box")}
      />
    </fieldset>
  );
}

function Preload({ form, trial, put, at, refused }: GroupProps) {
  const t = bind<Trial, SetupMade>(trial, put, refused, { at: `/axle/trials/${at}` });
  const filled = trial.pinion_torque || trial.total_torque || trial.spacer || trial.depth || trial.back_face;
  return (
    <details className="decide-box" open={Boolean(filled) || trial.mark !== "whole" || undefined}>
      <summary>Preload, depth gauge, run-out, odd patterns</summary>
      <div className={classes.three}>
        {t.text("Pinion turns with", "pinion_torque", { placeholder: "24 N at 75 mm" })}
        {t.text("With the carrier in", "total_torque", { placeholder: "3.1 N·m" })}
        {form.spacing === "crush" ? <span /> : t.text("Preload shims", "spacer", { placeholder: "2.50" })}
      </div>
      <div className={classes.three}>
        {t.text("Depth by gauge", "depth", { placeholder: "109.16" })}
        {t.text("Back face, same places", "back_face", { placeholder: "if the ring gear runs out" })}
        <NativeSelect
          label="The pattern is"
          value={trial.mark}
          onChange={(e) => put({ mark: e.currentTarget.value })}
          data={[
            { value: "whole", label: "one clean spot" },
            { value: "two_spots", label: "in two spots" },
            { value: "varies", label: "different around the ring" },
            { value: "edge_line", label: "a hard line at an edge" },
          ]}
        />
      </div>
    </details>
  );
}
