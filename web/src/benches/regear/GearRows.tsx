import { Button, NativeSelect } from "@mantine/core";
import { IconDownload } from "@tabler/icons-react";
import { useState } from "react";
import type { RegearPlan } from "../../api/client";
import { useUnits } from "../../app/units";
import { downloadCSV } from "../../format/csv";
import { change, fixed, fromKMH, speedUnit } from "../../format/numbers";
import classes from "./regear.module.css";
import { variantOf } from "./Verdict";

/** Every variant, gear and range, with exact ratios. */
function saveCSV(plan: RegearPlan, name: string) {
  const head = ["variant", "gear", "range", "overall_num", "overall_den", "overall", "kmh_per_1000_rpm", "shift_kmh"];
  downloadCSV(`${name} gears.csv`, [
    [...head, "newton_per_newton_meter", "formula", ...plan.speeds_kmh.map((s) => `rpm_at_${fixed(s, 2)}_kmh`)],
    ...[plan.before, plan.tires_only, ...plan.variants].flatMap((v) =>
      v.rows.map((r) => [
        v.name,
        r.gear,
        r.range ?? "",
        r.overall.num,
        r.overall.den,
        r.overall.decimal,
        r.kmh_per_1000,
        r.shift_kmh,
        r.thrust,
        r.formula,
        ...r.rpm,
      ]),
    ),
  ]);
}

type Column = { key: string; v: RegearPlan["before"] };

/** Each gear in a row; before, with the tires alone and after side by side under each figure. */
function Gears({ plan, lists, at: k, shift }: { plan: RegearPlan; lists: Column[]; at: number; shift: number }) {
  const [units] = useUnits();
  const unit = speedUnit(units);
  const figures: { head: string; cell: (v: Column["v"], row: number) => string; over?: boolean }[] = [
    { head: "overall", cell: (v, i) => fixed(v.rows[i]?.overall.decimal ?? 0, 2) },
    {
      head: `rpm at ${fixed(fromKMH(plan.speeds_kmh[k] ?? 0, units), 0)} ${unit}`,
      cell: (v, i) => fixed(v.rows[i]?.rpm[k] ?? 0, 0),
      over: true,
    },
    { head: `${unit} at shift rpm`, cell: (v, i) => fixed(fromKMH(v.rows[i]?.shift_kmh ?? 0, units), 1) },
    { head: "thrust, N per N·m", cell: (v, i) => fixed(v.rows[i]?.thrust ?? 0, 1) },
  ];
  return (
    <table className={`figures ${classes.gears}`}>
      <thead>
        <tr>
          <th rowSpan={2}>Gear</th>
          {figures.map((f) => (
            <th key={f.head} colSpan={lists.length}>
              {f.head}
            </th>
          ))}
        </tr>
        <tr>
          {figures.map((f) =>
            lists.map((l, i) => (
              <th key={f.head + l.key} className={`num ${i === 0 ? "first" : ""}`}>
                {l.key}
              </th>
            )),
          )}
        </tr>
      </thead>
      <tbody>
        {plan.before.rows.map((r, i) => (
          <tr key={r.gear + (r.range ?? "")}>
            <th scope="row">
              {r.gear} {r.range}
            </th>
            {figures.map((f) =>
              lists.map((l, j) => {
                const beyond = f.over && (l.v.rows[i]?.rpm[k] ?? 0) > shift;
                return (
                  <td
                    key={f.head + l.key}
                    className={`num ${j === 0 ? "first" : ""} ${beyond ? classes.over : ""}`}
                    title={f.head === "overall" ? l.v.rows[i]?.formula : undefined}
                  >
                    {f.cell(l.v, i)}
                  </td>
                );
              }),
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Every gear and range: before, with the tires alone, and with the gears. */
export function GearRows({ plan, name }: { plan: RegearPlan; name: string }) {
  const [units] = useUnits();
  const [other, setOther] = useState("");
  const middle = Math.min(plan.speeds_kmh.length - 1, 7);
  const [at, setAt] = useState(String(middle));
  const k = Number(at);
  const after = plan.variants.find((v) => v.id === other) ?? variantOf(plan, plan.estimate.candidate);
  const unit = speedUnit(units);
  const first = plan.before.rows[0];
  const shift = first ? (first.shift_kmh / first.kmh_per_1000) * 1000 : 0;
  const say = (kmh: number) => fixed(fromKMH(kmh, units), 0);
  const lists = [
    { key: "before", v: plan.before },
    { key: "tires only", v: plan.tires_only },
    ...(after.id === "tires_only" ? [] : [{ key: after.ratio.label, v: after }]),
  ];
  return (
    <div>
      <div className="row wrap no-print">
        <NativeSelect
          label="Compare with"
          value={after.id}
          onChange={(e) => setOther(e.currentTarget.value)}
          data={[plan.tires_only, ...plan.variants].map((v) => ({ value: v.id, label: v.name }))}
        />
        <NativeSelect
          label="rpm at"
          value={at}
          onChange={(e) => setAt(e.currentTarget.value)}
          data={plan.speeds_kmh.map((s, i) => ({ value: String(i), label: `${say(s)} ${unit}` }))}
        />
        <span className="grow" />
        <Button
          variant="default"
          size="sm"
          leftSection={<IconDownload size={16} />}
          onClick={() => saveCSV(plan, name)}
        >
          CSV, all variants
        </Button>
      </div>
      <Gears plan={plan} lists={lists} at={k} shift={shift} />
      <p className="dim">
        Against stock, thrust in every gear:{" "}
        {lists.map((l) => `${l.key} ${change(l.v.against_stock_percent)}`).join(", ")}. Thrust is overall ratio ÷
        rolling radius, without losses. {after.formula}. Crossed out: beyond the shift rpm of {fixed(shift, 0)}.
      </p>
    </div>
  );
}
