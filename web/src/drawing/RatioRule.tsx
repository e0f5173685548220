import { useElementSize } from "@mantine/hooks";
import type { Finding, Verdict } from "../api/client";
import { chance, fixed } from "../format/numbers";
import "./drawing.css";

type Bar = { id: string; name: string; says: number; low: number; high: number; agreement: Finding["agreement"] };

const signs = { agrees: "", doubtful: "? ", disagrees: "≠ " } as const;

/** The range shown: everything said and everything still plausible, with room. */
function range(bars: Bar[], candidates: number[]): [number, number] {
  const all = [...candidates, ...bars.flatMap((b) => [b.low, b.high])].filter((x) => Number.isFinite(x) && x > 0);
  const low = Math.min(...all);
  const high = Math.max(...all);
  const room = Math.max((high - low) * 0.12, high * 0.02);
  return [Math.max(0, low - room), high + room];
}

function ticks(low: number, high: number): { step: number; places: number; at: number[] } {
  const rough = (high - low) / 8;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((k) => k * power).find((k) => k >= rough) ?? rough;
  const at: number[] = [];
  for (let i = Math.ceil(low / step); i * step <= high; i++) at.push(i * step);
  return { step, places: Math.max(0, -Math.floor(Math.log10(step) + 1e-9)), at };
}

/**
 * The brass rule: ratios along it, each reading's reach as a bar above, the
 * candidates as notches below, as deep as they are likely.
 */
export function RatioRule({ verdict, names }: { verdict: Verdict; names: Map<string, string> }) {
  const { ref, width } = useElementSize();
  const w = Math.max(width, 320);
  const bars: Bar[] = verdict.findings
    .filter((f) => f.interval && f.says)
    .map((f) => ({
      id: f.reading_id,
      name: names.get(f.reading_id) ?? f.summary,
      says: f.says ?? 0,
      low: f.interval?.low ?? 0,
      high: f.interval?.high ?? 0,
      agreement: f.agreement,
    }))
    .slice(-8);
  const candidates = verdict.labels
    .slice(0, 30)
    .map((c) => ({ r: Math.abs(c.ratio.decimal), p: c.probability, label: c.label }));
  if (candidates.length === 0) return <div ref={ref} />;
  const [low, high] = range(
    bars,
    candidates.filter((c) => c.p > 0.01 || c === candidates[0]).map((c) => c.r),
  );
  const gap = bars.length > 5 ? 24 : 30;
  const top = bars.length * gap + 8;
  const x = (r: number) => 14 + ((Math.min(Math.max(r, low), high) - low) / (high - low)) * (w - 28);
  const t = ticks(low, high);
  const best = candidates[0];
  return (
    <div ref={ref} className="rule">
      <svg
        width={w}
        height={top + (verdict.turns_interval ? 120 : 100)}
        role="img"
        aria-label={`Ratios from ${fixed(low, 2)} to ${fixed(high, 2)}; most likely ${best.label}, ${chance(best.p)}. ${bars
          .map((b) => `${b.name}: ${fixed(b.says, 3)}, ${b.agreement}`)
          .join("; ")}`}
      >
        <defs>
          <pattern id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0V6" stroke="currentColor" strokeWidth="3" />
          </pattern>
        </defs>
        <path d={`M${x(best.r)} 0V${top}`} className="rule-best" />
        {bars.map((b, i) => (
          <BarView key={b.id} bar={b} x={x} y={6 + i * gap} width={w} />
        ))}
        <rect x={2} y={top} width={w - 4} height={34} className="rule-body" />
        {verdict.turns_interval && (
          <g className="turned">
            <path
              d={`M${x(verdict.turns_interval.low)} ${top + 78}v-6H${Math.max(x(verdict.turns_interval.high), x(verdict.turns_interval.low) + 3)}v6`}
            />
            <text x={4} y={top + 114}>
              turned readings alone: {fixed(verdict.turns_interval.low, 3)} to {fixed(verdict.turns_interval.high, 3)}{" "}
              (19 of 20 such readings, if no turn was lost)
            </text>
          </g>
        )}
        {t.at.map((v) => (
          <g key={v} className="rule-tick">
            <path d={`M${x(v)} ${top}v13`} />
            <text x={x(v)} y={top + 28} textAnchor="middle">
              {fixed(v, t.places)}
            </text>
          </g>
        ))}
        <Notches list={candidates.filter((c) => c.r >= low && c.r <= high)} x={x} top={top} />
      </svg>
    </div>
  );
}

/** One reading: the range that it allows, and what it says. */
function BarView({ bar: b, x, y, width }: { bar: Bar; x: (r: number) => number; y: number; width: number }) {
  const left = x(b.low);
  const right = Math.max(x(b.high), left + 5);
  const textRight = right + 8 + (b.name.length + 2) * 7 < width;
  return (
    <g className={`bar ${b.agreement}`}>
      <rect x={left} y={y} width={right - left} height={13} />
      <path d={`M${x(b.says)} ${y - 3}v19`} className="says" />
      <text x={textRight ? right + 8 : left - 8} y={y + 11} textAnchor={textRight ? "start" : "end"}>
        {signs[b.agreement]}
        {b.name}
      </text>
    </g>
  );
}

interface Candidate {
  r: number;
  p: number;
  label: string;
}

/** The ratios that are left, as long as they are likely; the first two by name. */
function Notches({ list, x, top }: { list: Candidate[]; x: (r: number) => number; top: number }) {
  return (
    <>
      {list.map((c, i) => (
        <g key={c.label} className={i === 0 ? "notch best" : "notch"}>
          <rect x={x(c.r) - 2.5} y={top + 34} width={5} height={Math.max(3, 40 * c.p)} />
          {i === 0 && (
            <text x={x(c.r)} y={top + 94} textAnchor="middle">
              {c.label}
            </text>
          )}
          {i === 1 && Math.abs(x(c.r) - x(list[0]?.r ?? c.r)) > 60 && c.p > 0.01 && (
            <text x={x(c.r)} y={top + 62} textAnchor="middle" className="second">
              {c.label}
            </text>
          )}
        </g>
      ))}
    </>
  );
}
