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
import type { RegearVariant } from "../../api/client";
import { axis, type Data, hint } from "../../drawing/Figure";
import classes from "./regear.module.css";

/** A line of the charts for each gear. */
export type Side = {
  id: string;
  name: string;
  rows: RegearVariant["rows"];
  width: number;
  dash: string;
  color: string;
};

/** A line for each gear and side against road speed. */
export function Lines({ t, sides, gears, unit }: { t: Data; sides: Side[]; gears: string[]; unit: string }) {
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
          {gears.flatMap((g, i) =>
            sides.map((side, k) => (
              <Line
                key={g + side.id}
                dataKey={`c${column(i, k)}`}
                name={`gear ${g}, ${side.name}`}
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
                        <text x={Number(x) + 4} y={Number(y) - 5} className={classes.figureEnd}>
                          {g}
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
      <p className={classes.figureKey}>
        {sides.map((side) => (
          <span key={side.id} data-side={side.id}>
            {side.name}
          </span>
        ))}
        <span>the number at a line's end is its gear</span>
      </p>
    </>
  );
}

/** Bars gear by gear: before, with the tires alone, and with what was chosen. */
export function Bars({ t, chosen }: { t: Data; chosen?: string }) {
  return (
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
        {chosen && <Bar dataKey="c" name={`with ${chosen}`} fill="var(--brass)" isAnimationActive={false} />}
      </BarChart>
    </ResponsiveContainer>
  );
}
