import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useState } from "react";
import type { Refused, SetupVerdict } from "../../api/client";
import { texts } from "../../fields/texts";
import { distinct, useShop } from "../../shop/useShop";
import { number } from "../tire/model";
import type { Form } from "./model";
import classes from "./setup.module.css";

type Props = { form: Form; set: (v: Partial<Form>) => void; refused?: Refused; verdict?: SetupVerdict };
type Texts =
  | "family"
  | "ring"
  | "pinion"
  | "pressure"
  | "spiral"
  | "depth_mark"
  | "seal_drag"
  | "arm"
  | "pitch"
  | "repeat"
  | "most";

/** What holds for all trials: the gears, which way a shim moves them, the maker's figures. */
export function AxleBox({ form, set, refused, verdict }: Props) {
  const shop = useShop("set_up_figures");
  const text = texts<Form & Record<Texts, string>, Texts>(form, set, refused, "/axle");
  const complete = form.ring.trim() && form.pinion.trim() && form.ring_side && form.pinion_thicker;
  const families = distinct(shop, "family");
  return (
    <details className="decide-box" open={!complete || undefined}>
      <summary>
        {complete
          ? `${form.ring} on ${form.pinion}, ring on the ${form.ring_side}, a thicker depth shim moves the pinion ${form.pinion_thicker}; ${form.family || "no family"}`
          : "The axle: say this first"}
      </summary>
      <div className={classes.three}>
        {text("Ring teeth", "ring", { placeholder: "41", numeric: true })}
        {text("Pinion teeth", "pinion", { placeholder: "10", numeric: true })}
        <TextInput
          label="Family"
          list="set-up-families"
          value={form.family}
          onChange={(e) => set({ family: e.currentTarget.value })}
          placeholder="for the maker's figures"
        />
        <datalist id="set-up-families">
          {families.map((f) => (
            <option key={f} value={f} />
          ))}
        </datalist>
      </div>
      <div className={classes.three}>
        <NativeSelect
          label="The ring sits on the"
          value={form.ring_side}
          onChange={(e) => set({ ring_side: e.currentTarget.value })}
          error={refused?.field("/axle/ring_side")}
          data={[
            { value: "", label: "…" },
            { value: "left", label: "left of the housing" },
            { value: "right", label: "right of the housing" },
          ]}
        />
        <NativeSelect
          label="A thicker depth shim moves the pinion"
          value={form.pinion_thicker}
          onChange={(e) => set({ pinion_thicker: e.currentTarget.value })}
          error={refused?.field("/axle/pinion_thicker")}
          data={[
            { value: "", label: "…" },
            { value: "in", label: "in, toward the ring's axis" },
            { value: "out", label: "out" },
          ]}
        />
        <NativeSelect
          label="Figures without a unit are"
          value={form.unit}
          onChange={(e) => set({ unit: e.currentTarget.value })}
          data={[
            { value: "mm", label: "millimeters" },
            { value: "in", label: "inches" },
          ]}
        />
      </div>
      <div className={classes.three}>
        <NativeSelect
          label="Pinion bearings"
          value={form.bearings}
          onChange={(e) => set({ bearings: e.currentTarget.value })}
          data={["new", "used"]}
        />
        <NativeSelect
          label="Their preload by"
          value={form.spacing}
          onChange={(e) => set({ spacing: e.currentTarget.value })}
          data={[
            { value: "shims", label: "shims" },
            { value: "crush", label: "a crush sleeve" },
          ]}
        />
        {text("Drag of the seal, if it is in", "seal_drag", { placeholder: "0.4 N·m" })}
      </div>
      <Figures form={form} set={set} refused={refused} verdict={verdict} />
      <details>
        <summary>Dial on an arm, angles, the pinion's mark</summary>
        <div className={classes.three}>
          {text("Dial on an arm, mm", "arm", { placeholder: "at the teeth", numeric: true }, "arm_mm")}
          {text("Pitch radius of that gear, mm", "pitch", { placeholder: "with an arm", numeric: true }, "pitch_mm")}
          {text("The gauge repeats to, mm", "repeat", { placeholder: "0.01", numeric: true }, "repeat_mm")}
        </div>
        <div className={classes.three}>
          {text("Spiral angle, °", "spiral", { placeholder: "35, common", numeric: true }, "spiral_deg")}
          {text("Pressure angle, °", "pressure", { placeholder: "20, common", numeric: true }, "pressure_deg")}
          {text("Mark, added to the depth", "depth_mark", { placeholder: "+0.05" })}
        </div>
      </details>
    </details>
  );
}

/** The maker's figures in use, and one more. */
function Figures({ form, set, refused, verdict }: Props) {
  const [figure, setFigure] = useState("backlash");
  const [low, setLow] = useState("");
  const [high, setHigh] = useState("");
  // A length is in the bench's unit unless another is chosen for it.
  const [own, setUnit] = useState("");
  const [source, setSource] = useState("");
  const kinds = verdict?.kinds ?? [];
  const used = verdict?.figures ?? [];
  const turns = kinds.find((k) => k.id === figure)?.turns;
  const unit = own || (turns ? "N·m" : form.unit || "mm");
  return (
    <fieldset className="decide-box">
      <legend>The maker's figures</legend>
      {used.length === 0 && <p className="dim">None yet: what is missing is left out, and said to be.</p>}
      <ul className={classes.figures}>
        {used.map((f) => (
          <li key={f.figure}>
            {f.name}:{" "}
            <b>
              {f.low > 0 && f.low !== f.high ? `${f.low} to ` : ""}
              {f.high} {f.unit}
            </b>{" "}
            <small className="dim">{f.from}</small>
            {form.figures.some((x) => x.figure === f.figure) && (
              <button
                type="button"
                className="linklike"
                onClick={() => set({ figures: form.figures.filter((x) => x.figure !== f.figure) })}
              >
                take out
              </button>
            )}
          </li>
        ))}
      </ul>
      {refused?.within("/axle/figures") && <p className="trouble">{refused.within("/axle/figures")}</p>}
      <div className={classes.figureRow}>
        <NativeSelect
          label="Figure"
          value={figure}
          onChange={(e) => {
            setFigure(e.currentTarget.value);
            setUnit("");
          }}
          data={
            kinds.length > 0
              ? kinds.map((k) => ({ value: k.id, label: k.name }))
              : [{ value: "backlash", label: "Backlash" }]
          }
        />
        <TextInput label="From" inputMode="decimal" value={low} onChange={(e) => setLow(e.currentTarget.value)} />
        <TextInput label="to" inputMode="decimal" value={high} onChange={(e) => setHigh(e.currentTarget.value)} />
        <NativeSelect
          label="Unit"
          value={unit}
          onChange={(e) => setUnit(e.currentTarget.value)}
          data={turns ? ["N·m", "lbf·in", "lbf·ft", "kgf·cm"] : ["mm", "in", "thou"]}
        />
        <TextInput
          label="Source"
          placeholder="manual, page"
          value={source}
          onChange={(e) => setSource(e.currentTarget.value)}
        />
        <Button
          variant="default"
          disabled={!high.trim()}
          onClick={() => {
            set({
              figures: [
                ...form.figures.filter((x) => x.figure !== figure),
                { figure, low: number(low), high: number(high), unit, source: source.trim() || undefined },
              ],
            });
            setLow("");
            setHigh("");
          }}
        >
          Enter
        </Button>
      </div>
    </fieldset>
  );
}
