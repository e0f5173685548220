import type { Refused, SetupAxle, SetupVerdict } from "../../api/client";
import { bind } from "../../form/bind";
import { distinct, useShop } from "../../shop/useShop";
import { MakersFigures } from "./MakersFigures";
import type { Form } from "./model";
import classes from "./setup.module.css";

type Props = { form: Form; set: (v: Partial<Form>) => void; refused?: Refused; verdict?: SetupVerdict };
type Texts = "family" | "pressure" | "spiral" | "depth_mark" | "seal_drag" | "arm" | "pitch" | "repeat";

/** What else holds for all trials: the maker's figures, the bearings, the gauge. */
export function AxleBox({ form, set, refused, verdict }: Props) {
  const shop = useShop("set_up_figures");
  const f = bind<Form & Record<Texts, string>, SetupAxle>(form, set, refused, { at: "/axle" });
  return (
    <details className="decide-box">
      <summary>Maker's figures, bearings, gauge{form.family ? `: ${form.family}` : ""}</summary>
      <div className={classes.three}>
        {f.text("Family", "family", { field: null, placeholder: "for the maker's figures", list: "set-up-families" })}
        <datalist id="set-up-families">
          {distinct(shop, "family").map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        {f.choice("Pinion bearings", "bearings", ["new", "used"], { field: null })}
        {f.choice(
          "Preload set by",
          "spacing",
          [
            { value: "shims", label: "a solid spacer and shims" },
            { value: "crush", label: "a crush sleeve" },
          ],
          { field: null },
        )}
      </div>
      <MakersFigures form={form} set={set} refused={refused} verdict={verdict} />
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
        <div className={classes.three}>
          {f.text("Seal drag, if the seal is in", "seal_drag", { placeholder: "0.4 N·m" })}
        </div>
      </details>
    </details>
  );
}
