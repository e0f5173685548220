import { NativeSelect } from "@mantine/core";
import { useState } from "react";
import { Bar, BarChart, CartesianGrid, Legend, Line, LineChart, Tooltip, XAxis, YAxis } from "recharts";
import type { RegearPlan, RegearVariant } from "../../api/client";
import { useUnits } from "../../app/units";
import { axis, type Cell, type Data, Figure, hint } from "../../drawing/Figure";
import { fixed, fromKMH, speedUnit } from "../../format/numbers";
import { variantOf } from "./Verdict";

// Gears are told apart by dash as well as by shade.
const dashes = ["", "9 3", "4 3", "12 3 3 3", "2 3", "9 3 2 3 2 3"];
const shade = (i: number, n: number) =>
  `color-mix(in srgb, var(--series) ${Math.round(100 - (60 * i) / Math.max(1, n - 1))}%, var(--paper-2))`;

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
  const points = (t: Data, from: number, step: number) =>
    t.rows.map((r) => ({
      x: Number(r[0]),
      ...Object.fromEntries(old.map((g, i) => [g.gear, r[1 + i * step + from] as Cell])),
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
  const lines = (t: Data, title: string) => (
    <div className="figure-pair">
      {[
        { at: 0, words: "before" },
        { at: 1, words: afterName },
      ].map((side) => (
        <div key={side.words}>
          <small>{side.words}</small>
          <LineChart
            width={430}
            height={250}
            data={points(t, side.at, 2)}
            margin={{ top: 8, right: 22, bottom: 4, left: 4 }}
            title={`${title}, ${side.words}`}
          >
            <CartesianGrid stroke="var(--line)" />
            <XAxis dataKey="x" type="number" domain={[0, "dataMax"]} {...axis} unit={` ${unit}`} />
            <YAxis {...axis} width={52} domain={[0, "auto"]} />
            <Tooltip {...hint} />
            <Legend />
            {old.map((g, i) => (
              <Line
                key={g.gear}
                dataKey={g.gear}
                name={`gear ${g.gear}`}
                stroke={shade(i, old.length)}
                strokeWidth={2.5}
                strokeDasharray={dashes[i % dashes.length]}
                dot={false}
                isAnimationActive={false}
              />
            ))}
          </LineChart>
        </div>
      ))}
    </div>
  );
  const bars = (t: Data) => (
    <BarChart
      width={880}
      height={230}
      data={t.rows.map((r) => ({ gear: `gear ${r[0]}`, a: r[1], b: r[2], c: r[3] }))}
      margin={{ top: 8, right: 22, bottom: 4, left: 4 }}
    >
      <CartesianGrid stroke="var(--line)" vertical={false} />
      <XAxis dataKey="gear" {...axis} />
      <YAxis {...axis} width={52} />
      <Tooltip {...hint} />
      <Legend />
      <Bar dataKey="a" name="before" fill="var(--ink-2)" isAnimationActive={false} />
      <Bar dataKey="b" name="tires only" fill="var(--line)" stroke="var(--ink-2)" isAnimationActive={false} />
      {after.id !== "tires_only" && (
        <Bar dataKey="c" name={`with ${afterName}`} fill="var(--brass)" isAnimationActive={false} />
      )}
    </BarChart>
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
        note={`rpm, ${range} range; drawn a little beyond the shift rpm`}
        file={`${name} rpm.csv`}
        data={rpm}
      >
        {lines(rpm, "rpm against speed")}
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
          note="newtons at the tires with the torque curve, without losses"
          file={`${name} thrust.csv`}
          data={force}
        >
          {lines(force, "thrust against speed")}
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
