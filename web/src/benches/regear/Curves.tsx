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
import { axis, type Cell, type Data, Figure, hint } from "../../drawing/Figure";
import { fixed, fromKMH, speedUnit } from "../../format/numbers";
import { variantOf } from "./Verdict";

/** rpm against speed, the ladder of ratios, and thrust by gear; before and after. */
export function Curves({ plan, name }: { plan: RegearPlan; name: string }) {
  const [units] = useUnits();
  const ranges = [...new Set(plan.before.rows.map((r) => r.range ?? ""))];
  const [range, setRange] = useState(ranges[0] ?? "");
  const after = variantOf(plan, plan.estimate.candidate);
  const afterName = after.id === "tires_only" ? "tires only" : after.ratio.label;
  const picked = (v: RegearVariant) => v.rows.filter((r) => (r.range ?? "") === range && !r.reverse);
  const old = picked(plan.before);
  const now = picked(after);
  const unit = speedUnit(units);
  const speed = (kmh: number) => Number(fixed(fromKMH(kmh, units), 1));
  const top = 1.25 * Math.max(...old.map((r) => r.shift_kmh / r.kmh_per_1000)) * 1000;
  const seen = (rpm: number | undefined): Cell => (rpm !== undefined && rpm <= top ? Math.round(rpm) : null);
  const rpm: Data = {
    head: [unit, ...old.flatMap((r) => [`${r.gear} before`, `${r.gear} ${afterName}`])],
    rows: plan.speeds_kmh.map((s, k) => [
      String(speed(s)),
      ...old.flatMap((r, i) => [seen(r.rpm[k]), seen(now[i]?.rpm[k])]),
    ]),
  };
  // Before and after lie in one picture: gear k is b<k> before and a<k> after.
  const points = (t: Data) =>
    t.rows.map((r) => ({
      x: Number(r[0]),
      ...Object.fromEntries(
        old.flatMap((_, i) => [
          [`b${i}`, r[1 + i * 2] as Cell],
          [`a${i}`, r[2 + i * 2] as Cell],
        ]),
      ),
    }));
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
  const force: Data = {
    head: [unit, ...old.flatMap((r) => [`${r.gear} before`, `${r.gear} ${afterName}`])],
    rows: plan.speeds_kmh.map((s, k) => [
      String(speed(s)),
      ...old.flatMap((r, i) => [r.force_n?.[k] ?? null, now[i]?.force_n?.[k] ?? null]),
    ]),
  };
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
    const last = (key: number) => t.rows.reduce((k, r, i) => (r[key] !== null ? i : k), -1);
    const one = (side: "b" | "a", i: number) => (
      <Line
        key={side + String(i)}
        dataKey={side + String(i)}
        name={`gear ${old[i]?.gear}, ${side === "b" ? "before" : afterName}`}
        stroke={side === "b" ? "var(--ink-2)" : "var(--series)"}
        strokeWidth={side === "b" ? 1.5 : 2.5}
        strokeDasharray={side === "b" ? "6 4" : ""}
        dot={false}
        isAnimationActive={false}
      >
        {side === "a" && (
          <LabelList
            dataKey={`a${i}`}
            content={({ x, y, index }) =>
              index === last(2 + i * 2) ? (
                <text x={Number(x) + 4} y={Number(y) - 5} className="figure-end">
                  {old[i]?.gear}
                </text>
              ) : null
            }
          />
        )}
      </Line>
    );
    return (
      <>
        <ResponsiveContainer width="100%" height={270}>
          <LineChart data={points(t)} margin={{ top: 16, right: 26, bottom: 4, left: 4 }}>
            <CartesianGrid stroke="var(--line)" />
            <XAxis dataKey="x" type="number" domain={[0, "dataMax"]} {...axis} />
            <YAxis {...axis} width={52} domain={[0, "auto"]} />
            <Tooltip {...hint} labelFormatter={(x) => `${x} ${unit}`} />
            {old.flatMap((_, i) => [one("b", i), one("a", i)])}
          </LineChart>
        </ResponsiveContainer>
        <p className="figure-key">
          <span className="is-before">before</span>
          <span className="is-after">{after.id === "tires_only" ? "with the new tires" : `with ${afterName}`}</span>
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
