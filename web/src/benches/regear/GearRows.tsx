import { Button, NativeSelect } from "@mantine/core";
import { IconDownload } from "@tabler/icons-react";
import { useState } from "react";
import type { RegearPlan } from "../../api/client";
import { useUnits } from "../../app/units";
import { downloadCSV } from "../../format/csv";
import { change, fixed, fromKMH, speedUnit } from "../../format/numbers";
import { variantOf } from "./Verdict";
import "./regear.css";

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
  const csv = () =>
    downloadCSV(`${name} gears.csv`, [
      [
        "variant",
        "gear",
        "range",
        "overall_num",
        "overall_den",
        "overall",
        "kmh_per_1000_rpm",
        "shift_kmh",
        "newton_per_newton_meter",
        "formula",
        ...plan.speeds_kmh.map((s) => `rpm_at_${fixed(s, 2)}_kmh`),
      ],
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
        <Button variant="default" size="sm" leftSection={<IconDownload size={16} />} onClick={csv}>
          CSV, all variants
        </Button>
      </div>
      <table className="figures rg-gears">
        <thead>
          <tr>
            <th rowSpan={2}>Gear</th>
            <th colSpan={lists.length}>overall</th>
            <th colSpan={lists.length}>
              rpm at {say(plan.speeds_kmh[k] ?? 0)} {unit}
            </th>
            <th colSpan={lists.length}>{unit} at shift rpm</th>
            <th colSpan={lists.length}>thrust, N per N·m</th>
          </tr>
          <tr>
            {["o", "r", "s", "t"].map((g) =>
              lists.map((l, i) => (
                <th key={g + l.key} className={`num ${i === 0 ? "first" : ""}`}>
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
              {lists.map((l, j) => (
                <td key={l.key} className={`num ${j === 0 ? "first" : ""}`} title={l.v.rows[i]?.formula}>
                  {fixed(l.v.rows[i]?.overall.decimal ?? 0, 2)}
                </td>
              ))}
              {lists.map((l, j) => (
                <td
                  key={l.key}
                  className={`num ${j === 0 ? "first" : ""} ${(l.v.rows[i]?.rpm[k] ?? 0) > shift ? "rg-over" : ""}`}
                >
                  {fixed(l.v.rows[i]?.rpm[k] ?? 0, 0)}
                </td>
              ))}
              {lists.map((l, j) => (
                <td key={l.key} className={`num ${j === 0 ? "first" : ""}`}>
                  {fixed(fromKMH(l.v.rows[i]?.shift_kmh ?? 0, units), 1)}
                </td>
              ))}
              {lists.map((l, j) => (
                <td key={l.key} className={`num ${j === 0 ? "first" : ""}`}>
                  {fixed(l.v.rows[i]?.thrust ?? 0, 1)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="dim">
        Against stock, thrust in every gear:{" "}
        {lists.map((l) => `${l.key} ${change(l.v.against_stock_percent)}`).join(", ")}. Thrust is overall ratio ÷
        rolling radius, without losses. {after.formula}. Crossed out: beyond the shift rpm of {fixed(shift, 0)}.
      </p>
    </div>
  );
}
