import type { Refused, SetupAxle, SetupVerdict } from "../../api/client";
import { bind } from "../../form/bind";
import type { Form } from "./model";
import classes from "./setup.module.css";

type Props = { form: Form; set: (v: Partial<Form>) => void; refused?: Refused; verdict?: SetupVerdict };
type Texts = "ring" | "pinion" | "lash_low" | "lash_high";

/** What is asked first: the gears, and the backlash that the maker wants. */
export function FirstFields({ form, set, refused, verdict }: Props) {
  const f = bind<Form & Record<Texts, string>, SetupAxle>(form, set, refused, { at: "/axle" });
  const listed = verdict?.figures.find((x) => x.figure === "backlash");
  const given = form.lash_low.trim() || form.lash_high.trim();
  const inch = form.unit === "in";
  return (
    <div>
      <div className={classes.four}>
        {f.text("Ring teeth", "ring", { placeholder: "41", numeric: true })}
        {f.text("Pinion teeth", "pinion", { placeholder: "10", numeric: true })}
        {f.text(`Backlash, least ${form.unit}`, "lash_low", {
          field: null,
          placeholder: inch ? "0.006" : "0.15",
          numeric: true,
        })}
        {f.text(`Backlash, most ${form.unit}`, "lash_high", {
          field: null,
          placeholder: inch ? "0.010" : "0.25",
          numeric: true,
        })}
      </div>
      {refused?.within("/axle/figures") && <p className="trouble">Backlash: {refused.within("/axle/figures")}</p>}
      <p className="dim small">
        {listed && !given
          ? `The maker's backlash: ${listed.low} to ${listed.high} ${listed.unit} (${listed.from}).`
          : "Backlash as the maker gives it."}{" "}
        Plain numbers are in {inch ? "inches" : "millimeters"}.{" "}
        <button type="button" className="linklike" onClick={() => set({ unit: inch ? "mm" : "in" })}>
          Use {inch ? "millimeters" : "inches"}
        </button>
      </p>
    </div>
  );
}
