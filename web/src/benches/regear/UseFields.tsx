import { Checkbox, NativeSelect, TextInput } from "@mantine/core";
import type { Doc, Refused, RegearPlan, RegearRequest } from "../../api/client";
import { useUnits } from "../../app/units";
import { bind } from "../../form/bind";
import { speedUnit } from "../../format/numbers";
import { gearboxes, type PlainForm, type RegearForm } from "./model";

type Props = {
  families: string[];
  form: RegearForm;
  set: (v: Partial<RegearForm>) => void;
  plan?: RegearPlan;
  doc?: Doc;
  refused?: Refused;
};

/** How it is used, what is wanted, and what the drawing does not hold. */
export function UseFields({ families, form: f, set, plan, doc, refused }: Props) {
  const [units] = useUnits();
  const b = bind<RegearForm, RegearRequest>(f, set, refused, { numeric: true });
  const kmh = speedUnit(units);
  const gears = plan ? [...new Set(plan.before.rows.filter((r) => !r.reverse).map((r) => r.gear))] : [];
  return (
    <div className="stack">
      {b.segments("Used for", "use", [
        { value: "highway", label: "Highway" },
        { value: "mixed", label: "Mixed" },
        { value: "towing", label: "Towing" },
        { value: "trail", label: "Trail" },
      ])}
      <div className="four">
        {b.text(kmh === "mph" ? "Cruise mph" : "Cruise km/h", "kmh", {
          field: "cruise/kmh",
          placeholder: units === "inch" ? "56" : "90",
        })}
        {b.choice(
          "in gear",
          "gear",
          [{ value: "", label: `tallest${plan ? ` (${plan.cruise_gear})` : ""}` }, ...gears],
          { field: "cruise/gear" },
        )}
        {b.text("rpm from", "low", { field: "cruise/low_rpm", placeholder: "band" })}
        {b.text("to", "high", { field: "cruise/high_rpm" })}
      </div>
      {!doc && <PlainFields form={f} set={set} refused={refused} />}
      <details className="decide-box" open={Boolean(f.crawl || f.launch || f.torque || f.stockRatio)}>
        <summary>Wishes and engine</summary>
        <div className="four">
          {b.text(`Crawl at, ${kmh}`, "crawl", { field: "crawl_kmh", placeholder: "no wish" })}
          {b.text("Launch, % of stock", "launch", { field: "launch_percent", placeholder: "no wish" })}
          {b.text("Shift at, rpm", "shift", { field: "shift_rpm", placeholder: "4000" })}
          {b.text("Idle, rpm", "idle", { field: "idle_rpm", placeholder: "750" })}
        </div>
        {b.text("Torque curve: rpm N·m, rpm N·m …", "torque", {
          placeholder: "1000 210, 2000 260, 3500 240",
          words: true,
        })}
        <div className="two">
          {b.text("Stock axle ratio", "stockRatio", { field: "stock/ratio", placeholder: "what is installed" })}
          {b.text("Stock tire", "stockTire", { field: "stock/tire", placeholder: "tires before", words: true })}
        </div>
      </details>
      <Axles families={families} form={f} set={set} plan={plan} doc={doc} refused={refused} />
    </div>
  );
}

/** A driveline that isn't drawn, by its figures. */
function PlainFields({ form: f, set, refused }: Pick<Props, "form" | "set" | "refused">) {
  const plain = bind<PlainForm, NonNullable<RegearRequest["plain"]>>(
    f.plain,
    (v) => set({ plain: { ...f.plain, ...v } }),
    refused,
    { at: "/plain" },
  );
  return (
    <fieldset className="decide-box">
      <legend>Driveline</legend>
      {plain.choice("Gearbox", "typical", gearboxes)}
      {plain.text("Gearbox ratios, first gear first", "gears", {
        placeholder: f.plain.typical ? "usual ones" : "4.06 2.37 1.49 1 0.84",
      })}
      <div className="two">
        {plain.text("Low range", "low", { field: "ranges", placeholder: "none" })}
        {plain.text("Front axle", "front", { placeholder: "not driven" })}
        {plain.choice(
          "Center",
          "center",
          [
            { value: "part_time", label: "part-time" },
            { value: "open", label: "differential" },
            { value: "solid", label: "always locked" },
          ],
          { field: null },
        )}
      </div>
    </fieldset>
  );
}

/** What the shop knows of the axles, and what can't be changed. */
function Axles({ families, form: f, set, plan, doc, refused }: Props) {
  const b = bind<RegearForm, RegearRequest>(f, set, refused, { numeric: true });
  const axles = plan?.axles ?? [];
  // Gears of one family don't fit the housing of another.
  const unsure = (a: RegearPlan["axles"][number]) => !a.family && a.families.length > 1;
  const front = axles.some((a) => a.at === "front") && axles.length > 1;
  return (
    <details
      className="decide-box"
      open={Boolean(f.rearFamily || f.frontFamily || f.rearFixed || f.frontFixed || axles.some(unsure))}
    >
      <summary>
        Axles
        {axles.length > 0 &&
          `: ${axles.map((a) => `${a.at} ${a.ratio.label}${a.teeth ? ` (${a.teeth})` : ""}`).join(", ")}`}
      </summary>
      {axles
        .filter((a, i) => axles.findIndex((x) => x.at === a.at) === i)
        .map((a) => {
          const key = a.at === "rear" ? "rearFamily" : "frontFamily";
          const type = a.at === "rear" ? "rearType" : "frontType";
          return (
            <div className="two" key={a.at}>
              <TextInput
                label={`Family of the ${a.at} axle`}
                placeholder={a.family || a.families.join(", ") || "as in the shop's list"}
                list={`rg-${a.at}-families`}
                value={f[key]}
                onChange={(e) => set({ [key]: e.currentTarget.value })}
                error={
                  b.fault(`${a.at as "rear"}/family`) ?? (unsure(a) ? `one of ${a.families.join(", ")}` : undefined)
                }
              />
              <datalist id={`rg-${a.at}-families`}>
                {(a.family ? families : a.families).map((x) => (
                  <option key={x} value={x} />
                ))}
              </datalist>
              <NativeSelect
                label="Build"
                value={f[type]}
                onChange={(e) => set({ [type]: e.currentTarget.value })}
                data={["solid", "independent"]}
              />
              <Checkbox
                label={`The ${a.at} axle can't be changed`}
                checked={f[a.at === "rear" ? "rearFixed" : "frontFixed"]}
                onChange={(e) => set({ [a.at === "rear" ? "rearFixed" : "frontFixed"]: e.currentTarget.checked })}
              />
            </div>
          );
        })}
      <div className="two">
        {b.text("Rear carrier takes from", "carrierFrom", {
          field: "rear/carrier/from",
          placeholder: "by the shop's list",
        })}
        {b.text("to", "carrierTo", { field: "rear/carrier/to" })}
      </div>
      {front &&
        b.text("Family of the transfer case", "caseFamily", {
          field: null,
          placeholder: doc?.parts.find((p) => p.kind === "transfer_case")?.family || "any low-range set",
          words: true,
        })}
      {front && (
        <NativeSelect
          label="Transfer case or center that comes next"
          title="Also check pairs against it: open now, locked later"
          value={f.nextCenter ?? ""}
          onChange={(e) => set({ nextCenter: e.currentTarget.value })}
          data={[
            { value: "", label: "none planned" },
            { value: "part_time", label: "part-time" },
            { value: "open", label: "open center differential" },
            { value: "limited_slip", label: "limited-slip center" },
            { value: "solid", label: "always locked" },
          ]}
        />
      )}
    </details>
  );
}
