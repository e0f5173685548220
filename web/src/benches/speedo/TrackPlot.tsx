import { memo } from "react";
import {
  CartesianGrid,
  ComposedChart,
  Legend,
  Line,
  ResponsiveContainer,
  Scatter,
  Tooltip,
  XAxis,
  YAxis,
} from "recharts";
import type { SpeedoTrack } from "../../api/client";
import { useUnits } from "../../app/units";
import { axis, type Data, Figure, hint } from "../../drawing/Figure";
import { fixed, fromKMH, speedUnit, typed } from "../../format/numbers";

const words: Record<string, string> = { driving: "driving", paused: "standing", gap: "gap" };

/** Speed along the track, with its pauses, gaps, refused fixes and what was noted. */
export const TrackPlot = memo(function TrackPlot({
  track: t,
  noted,
  name,
}: {
  track: SpeedoTrack;
  noted: { time: string; shown_kmh: number }[];
  name: string;
}) {
  const [units] = useUnits();
  const unit = speedUnit(units);
  const speed = (kmh: number) => Number(fixed(fromKMH(kmh, units), 1).replace("−", "-"));
  const seconds = (at: string) => {
    const s = typed(at);
    return s === undefined || Number.isNaN(s) ? (Date.parse(at) - Date.parse(t.start)) / 1000 : s;
  };
  type Point = { s: number; driving?: number; paused?: number; gap?: number; noted?: number; dropped?: number };
  const points: Point[] = t.samples.map((x, i) => {
    const v = speed(x.kmh);
    const beside = [t.samples[i - 1]?.state, x.state, t.samples[i + 1]?.state];
    return {
      s: Math.round(x.s),
      driving: x.state === "driving" ? v : undefined,
      paused: x.state === "paused" ? v : undefined,
      // A gap is drawn from end to end.
      gap: beside.includes("gap") ? v : undefined,
    };
  });
  for (const n of noted) {
    const s = seconds(n.time);
    if (Number.isFinite(s)) points.push({ s: Math.round(s), noted: speed(n.shown_kmh) });
  }
  for (const d of t.dropped) points.push({ s: Math.round(d.s), dropped: 0 });
  points.sort((a, b) => a.s - b.s);
  const data: Data = {
    head: ["s", unit, "m", "state"],
    rows: t.samples.map((x) => [
      String(Math.round(x.s * 10) / 10),
      speed(x.kmh),
      Math.round(x.m),
      words[x.state] ?? x.state,
    ]),
  };
  return (
    <Figure title="The track" note={`${unit} by time. ${t.text}`} file={`${name} track.csv`} data={data}>
      {t.timed ? (
        <ResponsiveContainer width="100%" height={230}>
          <ComposedChart data={points} margin={{ top: 8, right: 22, bottom: 4, left: 4 }}>
            <CartesianGrid stroke="var(--line)" />
            <XAxis dataKey="s" type="number" domain={[0, "dataMax"]} {...axis} unit=" s" />
            <YAxis {...axis} width={52} />
            <Tooltip {...hint} />
            <Legend formatter={(v) => <span className="figure-word">{v}</span>} />
            <Line dataKey="driving" stroke="var(--series)" strokeWidth={2} dot={false} isAnimationActive={false} />
            <Line
              dataKey="paused"
              name="standing"
              stroke="var(--ink-2)"
              strokeWidth={4}
              dot={false}
              isAnimationActive={false}
            />
            <Line
              dataKey="gap"
              stroke="var(--doubt)"
              strokeDasharray="4 4"
              strokeWidth={2}
              dot={false}
              isAnimationActive={false}
            />
            <Scatter
              dataKey="noted"
              name="needle, as noted"
              fill="var(--brass)"
              shape="diamond"
              isAnimationActive={false}
            />
            <Scatter dataKey="dropped" name="fix left out" fill="var(--stop)" shape="cross" isAnimationActive={false} />
          </ComposedChart>
        </ResponsiveContainer>
      ) : (
        <p className="dim">The track holds no times, so only its length is used.</p>
      )}
      {t.dropped.length > 0 && (
        <details>
          <summary>{t.dropped_count === 1 ? "One fix was left out" : `${t.dropped_count} fixes were left out`}</summary>
          <ul>
            {t.dropped.map((d) => (
              <li key={d.s + d.why}>
                {fixed(d.s, 0)} s: {d.why}
              </li>
            ))}
          </ul>
        </details>
      )}
    </Figure>
  );
});
