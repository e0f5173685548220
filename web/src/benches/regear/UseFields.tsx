import { Checkbox, NativeSelect, SegmentedControl, TextInput } from "@mantine/core";
import type { Doc, Refused, RegearPlan } from "../../api/client";
import { useUnits } from "../../app/units";
import { speedUnit } from "../../format/numbers";
import { gearboxes, type RegearForm } from "./model";

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
  const err = (field: string) => refused?.field(`/${field}`);
  const begins = (field: string) => refused?.within(`/${field}`);
  const text = (label: string, key: keyof RegearForm, field: string, placeholder?: string) => (
    <TextInput
      label={label}
      placeholder={placeholder}
      inputMode="decimal"
      value={String(f[key])}
      onChange={(e) => set({ [key]: e.currentTarget.value })}
      error={err(field)}
    />
  );
  const kmh = speedUnit(units);
  const gears = plan ? [...new Set(plan.before.rows.filter((r) => !r.reverse).map((r) => r.gear))] : [];
  const axles = plan?.axles ?? [];
  // Gears of one family don't fit the housing of another.
  const unsure = (a: RegearPlan["axles"][number]) => !a.family && a.families.length > 1;
  const front = axles.some((a) => a.at === "front") && axles.length > 1;
  return (
    <div className="stack">
      <div>
        <span className="field-label" id="rg-use">
          Used for
        </span>
        <SegmentedControl
          fullWidth
          size="sm"
          aria-labelledby="rg-use"
          value={f.use}
          onChange={(v) => set({ use: v })}
          data={[
            { value: "highway", label: "Highway" },
            { value: "mixed", label: "Mixed" },
            { value: "towing", label: "Towing" },
            { value: "trail", label: "Trail" },
          ]}
        />
      </div>
      <div className="four">
        {text(kmh === "mph" ? "Cruise mph" : "Cruise km/h", "kmh", "cruise/kmh", units === "inch" ? "56" : "90")}
        <NativeSelect
          label="in gear"
          value={f.gear}
          onChange={(e) => set({ gear: e.currentTarget.value })}
          data={[{ value: "", label: `tallest${plan ? ` (${plan.cruise_gear})` : ""}` }, ...gears]}
          error={err("cruise/gear")}
        />
        {text("rpm from", "low", "cruise/low_rpm", "band")}
        {text("to", "high", "cruise/high_rpm")}
      </div>
      {!doc && (
        <fieldset className="decide-box">
          <legend>Driveline</legend>
          <NativeSelect
            label="Gearbox"
            value={f.plain.typical ?? ""}
            onChange={(e) => set({ plain: { ...f.plain, typical: e.currentTarget.value } })}
            data={gearboxes}
            error={begins("plain/typical")}
          />
          <TextInput
            label="Gearbox ratios, first gear first"
            placeholder={f.plain.typical ? "usual ones" : "4.06 2.37 1.49 1 0.84"}
            value={f.plain.gears}
            onChange={(e) => set({ plain: { ...f.plain, gears: e.currentTarget.value } })}
            error={begins("plain/gears")}
          />
          <div className="two">
            <TextInput
              label="Low range"
              placeholder="none"
              value={f.plain.low}
              onChange={(e) => set({ plain: { ...f.plain, low: e.currentTarget.value } })}
              error={begins("plain/ranges")}
            />
            <TextInput
              label="Rear axle"
              placeholder="41/10"
              value={f.plain.rear}
              onChange={(e) => set({ plain: { ...f.plain, rear: e.currentTarget.value } })}
              error={begins("plain/rear")}
            />
            <TextInput
              label="Front axle"
              placeholder="not driven"
              value={f.plain.front}
              onChange={(e) => set({ plain: { ...f.plain, front: e.currentTarget.value } })}
              error={begins("plain/front")}
            />
            <NativeSelect
              label="Center"
              value={f.plain.center}
              onChange={(e) => set({ plain: { ...f.plain, center: e.currentTarget.value } })}
              data={[
                { value: "part_time", label: "part-time" },
                { value: "open", label: "differential" },
                { value: "solid", label: "always locked" },
              ]}
            />
          </div>
        </fieldset>
      )}
      <details className="decide-box" open={Boolean(f.crawl || f.launch || f.torque || f.stockRatio)}>
        <summary>Wishes and engine</summary>
        <div className="four">
          {text(`Crawl at, ${kmh}`, "crawl", "crawl_kmh", "no wish")}
          {text("Launch, % of stock", "launch", "launch_percent", "no wish")}
          {text("Shift at, rpm", "shift", "shift_rpm", "4000")}
          {text("Idle, rpm", "idle", "idle_rpm", "750")}
        </div>
        <TextInput
          label="Torque curve: rpm N·m, rpm N·m …"
          placeholder="1000 210, 2000 260, 3500 240"
          value={f.torque}
          onChange={(e) => set({ torque: e.currentTarget.value })}
          error={begins("torque")}
        />
        <div className="two">
          {text("Stock axle ratio", "stockRatio", "stock/ratio", "what is in it")}
          <TextInput
            label="Stock tire"
            placeholder="tires before"
            value={f.stockTire}
            onChange={(e) => set({ stockTire: e.currentTarget.value })}
            error={begins("stock/tire")}
          />
        </div>
      </details>
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
                  placeholder={a.family || a.families.join(", ") || "as in the catalog"}
                  list={`rg-${a.at}-families`}
                  value={f[key]}
                  onChange={(e) => set({ [key]: e.currentTarget.value })}
                  error={err(`${a.at}/family`) ?? (unsure(a) ? `one of ${a.families.join(", ")}` : undefined)}
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
          {text("Rear carrier takes from", "carrierFrom", "rear/carrier/from", "by the catalog")}
          {text("to", "carrierTo", "rear/carrier/to")}
        </div>
        {front && (
          <TextInput
            label="Family of the transfer case"
            placeholder={doc?.parts.find((p) => p.kind === "transfer_case")?.family || "any low-range set"}
            value={f.caseFamily}
            onChange={(e) => set({ caseFamily: e.currentTarget.value })}
          />
        )}
        {front && (
          <NativeSelect
            label="Transfer case or center that comes next"
            title="Pairs are held against it too: open now, locked later"
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
    </div>
  );
}
