import { NativeSelect } from "@mantine/core";
import { useState } from "react";
import {
  Bar,
  BarChart,
  CartesianGrid,
  LabelList,
  Legend,
  Line,
  LineChart,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from "recharts";
import type { RegearPlan, RegearVariant } from "../../api/client";
import { useUnits } from "../../app/units";
import { axis, type Data, Figure, hint } from "../../drawing/Figure";
import { fixed, fromKMH, speedUnit } from "../../format/numbers";
import { variantOf } from "./Verdict";

/** A line of the charts for each gear. */
type Side = { id: string; name: string; rows: RegearVariant["rows"]; width: number; dash: string; color: string };

/** rpm against speed, the ladder of ratios, and thrust by gear; before and after. */
export function Curves({ plan, name }: { plan: RegearPlan; name: string }) {
  const [units] = useUnits();
  const ranges = [...new Set(plan.before.rows.map((r) => r.range ?? ""))];
  const [range, setRange] = useState(ranges[0] ?? "");
  const after = variantOf(plan, plan.estimate.candidate);
  const afterName = after.id === "tires_only" ? "tires only" : after.ratio.label;
  const picked = (v: RegearVariant) => v.rows.filter((r) => (r.range ?? "") === range && !r.reverse);
  const sides: Side[] = [
    { id: "before", name: "before", rows: picked(plan.before), width: 1.5, dash: "6 4", color: "var(--ink-2)" },
    ...(after.id === "tires_only"
      ? []
      : [
          {
            id: "only",
            name: "tires only",
            rows: picked(plan.tires_only),
            width: 1.5,
            dash: "2 3",
            color: "var(--brass-deep)",
          },
        ]),
    { id: "after", name: afterName, rows: picked(after), width: 2.5, dash: "", color: "var(--series)" },
  ];
  const old = picked(plan.before);
  const now = picked(after);
  const unit = speedUnit(units);
  const speed = (kmh: number) => Number(fixed(fromKMH(kmh, units), 1));
  const top = 1.25 * Math.max(...old.map((r) => r.shift_kmh / r.kmh_per_1000)) * 1000;
  // A column for each gear and side, gear by gear.
  const bySpeed = (value: (r: RegearVariant["rows"][number], k: number) => number | null | undefined): Data => ({
    head: [unit, ...old.flatMap((r) => sides.map((side) => `${r.gear} ${side.name}`))],
    rows: plan.speeds_kmh.map((kmh, k) => [
      String(speed(kmh)),
      ...old.flatMap((_, i) => sides.map((side) => (side.rows[i] ? (value(side.rows[i], k) ?? null) : null))),
    ]),
  });
  const rpm = bySpeed((r, k) => {
    const v = r.rpm[k];
    return v !== undefined && v <= top ? Math.round(v) : null;
  });
  const ladder: Data = {
    head: ["gear", "before", "tires only", afterName],
    rows: old.map((r, i) => [
      r.gear,
      Number(r.acts_like.toFixed(3)),
      Number((picked(plan.tires_only)[i]?.acts_like ?? 0).toFixed(3)),
      Number((now[i]?.acts_like ?? 0).toFixed(3)),
    ]),
  };
  const curve = Boolean(plan.before.max_force_n);
  const force = bySpeed((r, k) => r.force_n?.[k]);
  const thrust: Data = {
    head: ["gear", "before", "tires only", afterName],
    rows: old.map((r, i) => [
      r.gear,
      Number(r.thrust.toFixed(2)),
      Number((picked(plan.tires_only)[i]?.thrust ?? 0).toFixed(2)),
      Number((now[i]?.thrust ?? 0).toFixed(2)),
    ]),
  };
  const lines = (t: Data) => {
    const n = sides.length;
    const column = (i: number, side: number) => 1 + i * n + side;
    const last = (c: number) => t.rows.reduce((k, r, i) => (r[c] !== null ? i : k), -1);
    const points = t.rows.map((r) => Object.fromEntries(r.map((v, c) => [`c${c}`, c === 0 ? Number(v) : v])));
    return (
      <>
        <ResponsiveContainer width="100%" height={270}>
          <LineChart data={points} margin={{ top: 16, right: 26, bottom: 4, left: 4 }}>
            <CartesianGrid stroke="var(--line)" />
            <XAxis dataKey="c0" type="number" domain={[0, "dataMax"]} {...axis} />
            <YAxis {...axis} width={52} domain={[0, "auto"]} />
            <Tooltip {...hint} labelFormatter={(x) => `${x} ${unit}`} />
            {old.flatMap((g, i) =>
              sides.map((side, k) => (
                <Line
                  key={g.gear + side.id}
                  dataKey={`c${column(i, k)}`}
                  name={`gear ${g.gear}, ${side.name}`}
                  stroke={side.color}
                  strokeWidth={side.width}
                  strokeDasharray={side.dash}
                  dot={false}
                  isAnimationActive={false}
                >
                  {k === n - 1 && (
                    <LabelList
                      dataKey={`c${column(i, k)}`}
                      content={({ x, y, index }) =>
                        index === last(column(i, k)) ? (
                          <text x={Number(x) + 4} y={Number(y) - 5} className="figure-end">
                            {g.gear}
                          </text>
                        ) : null
                      }
                    />
                  )}
                </Line>
              )),
            )}
          </LineChart>
        </ResponsiveContainer>
        <p className="figure-key">
          {sides.map((side) => (
            <span key={side.id} className={`is-${side.id}`}>
              {side.name}
            </span>
          ))}
          <span>the number at a line's end is its gear</span>
        </p>
      </>
    );
  };
  const bars = (t: Data) => (
    <ResponsiveContainer width="100%" height={230}>
      <BarChart
        data={t.rows.map((r) => ({ gear: `gear ${r[0]}`, a: r[1], b: r[2], c: r[3] }))}
        margin={{ top: 8, right: 22, bottom: 4, left: 4 }}
      >
        <CartesianGrid stroke="var(--line)" vertical={false} />
        <XAxis dataKey="gear" {...axis} />
        <YAxis {...axis} width={52} />
        <Tooltip {...hint} />
        <Legend formatter={(v) => <span className="figure-word">{v}</span>} />
        <Bar dataKey="a" name="before" fill="var(--ink-2)" isAnimationActive={false} />
        <Bar dataKey="b" name="tires only" fill="var(--line)" stroke="var(--ink-2)" isAnimationActive={false} />
        {after.id !== "tires_only" && (
          <Bar dataKey="c" name={`with ${afterName}`} fill="var(--brass)" isAnimationActive={false} />
        )}
      </BarChart>
    </ResponsiveContainer>
  );
  return (
    <div className="rg-curves">
      {ranges.length > 1 && (
        <NativeSelect
          className="no-print"
          label="Range"
          w={140}
          value={range}
          onChange={(e) => setRange(e.currentTarget.value)}
          data={ranges}
        />
      )}
      <Figure
        title="Engine speed against road speed"
        note={`rpm by ${unit}${range ? `, ${range} range` : ""}; drawn a little beyond the shift rpm`}
        file={`${name} rpm.csv`}
        data={rpm}
      >
        {lines(rpm)}
      </Figure>
      <Figure
        title="Ladder of ratios"
        note="overall, as it would act on the stock tire: closer bars are closer steps"
        file={`${name} ladder.csv`}
        data={ladder}
      >
        {bars(ladder)}
      </Figure>
      {curve ? (
        <Figure
          title="Thrust by gear"
          note={`newtons at the tires by ${unit}, with the torque curve, without losses`}
          file={`${name} thrust.csv`}
          data={force}
        >
          {lines(force)}
        </Figure>
      ) : (
        <Figure
          title="Thrust by gear"
          note="newtons at the tires per newton meter of the engine; with a torque curve it is drawn against speed"
          file={`${name} thrust.csv`}
          data={thrust}
        >
          {bars(thrust)}
        </Figure>
      )}
    </div>
  );
}
