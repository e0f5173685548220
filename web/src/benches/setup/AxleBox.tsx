import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useState } from "react";
import type { Refused, SetupAxle, SetupVerdict } from "../../api/client";
import { bind } from "../../form/bind";
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
  const f = bind<Form & Record<Texts, string>, SetupAxle>(form, set, refused, { at: "/axle" });
  const complete = form.ring.trim() && form.pinion.trim() && form.ring_side && form.pinion_thicker;
  const families = distinct(shop, "family");
  return (
    <details className="decide-box" open={!complete || undefined}>
      <summary>
        {complete
          ? `${form.ring} on ${form.pinion}, ring on the ${form.ring_side}, a thicker depth shim moves the pinion ${form.pinion_thicker}; ${form.family || "no family"}`
          : "The axle: enter this first"}
      </summary>
      <div className={classes.three}>
        {f.text("Ring teeth", "ring", { placeholder: "41", numeric: true })}
        {f.text("Pinion teeth", "pinion", { placeholder: "10", numeric: true })}
        {f.text("Family", "family", { field: null, placeholder: "for the maker's figures", list: "set-up-families" })}
        <datalist id="set-up-families">
          {families.map((f) => (
            <option key={f} value={f} />
          ))}
        </datalist>
      </div>
      <div className={classes.three}>
        {f.choice("The ring sits on the", "ring_side", [
          { value: "", label: "…" },
          { value: "left", label: "left of the housing" },
          { value: "right", label: "right of the housing" },
        ])}
        {f.choice("Thicker depth shim moves the pinion", "pinion_thicker", [
          { value: "", label: "…" },
          { value: "in", label: "in, toward the ring gear's axis" },
          { value: "out", label: "out" },
        ])}
        {f.choice(
          "Figures without a unit are in",
          "unit",
          [
            { value: "mm", label: "millimeters" },
            { value: "in", label: "inches" },
          ],
          { field: null },
        )}
      </div>
      <div className={classes.three}>
        {f.choice("Pinion bearings", "bearings", ["new", "used"], { field: null })}
        {f.choice(
          "Preload set by",
          "spacing",
          [
            { value: "shims", label: "shims" },
            { value: "crush", label: "a crush sleeve" },
          ],
          { field: null },
        )}
        {f.text("Seal drag, if the seal is in", "seal_drag", { placeholder: "0.4 N·m" })}
      </div>
      <Figures form={form} set={set} refused={refused} verdict={verdict} />
      <details>
        <summary>Dial on an arm, angles, the pinion's mark</summary>
        <div className={classes.three}>
          {f.text("Dial on an arm, mm", "arm", { placeholder: "at the teeth", numeric: true, field: "arm_mm" })}
          {f.text("Pitch radius of that gear, mm", "pitch", {
            placeholder: "with an arm",
            numeric: true,
            field: "pitch_mm",
          })}
          {f.text("The gauge repeats to, mm", "repeat", { placeholder: "0.01", numeric: true, field: "repeat_mm" })}
        </div>
        <div className={classes.three}>
          {f.text("Spiral angle, °", "spiral", { placeholder: "35, common", numeric: true, field: "spiral_deg" })}
          {f.text("Pressure angle, °", "pressure", { placeholder: "20, common", numeric: true, field: "pressure_deg" })}
          {f.text("Mark, added to the depth", "depth_mark", { placeholder: "+0.05" })}
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
