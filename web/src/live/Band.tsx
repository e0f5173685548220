import type { LiveAnswer, Verdict } from "../api/client";
import { fixed, label } from "../format/numbers";
import classes from "./live.module.css";

type Props = { ratio: NonNullable<LiveAnswer["ratio"]>; verdict?: Verdict };

/** The range of the ratio, narrowing around the ratios that it could be; those left are named. */
export function RatioBand({ ratio, verdict }: Props) {
  const half = Math.max((ratio.high - ratio.low) / 2, ratio.best * 0.004);
  const [low, high] = [ratio.best - half * 2.2, ratio.best + half * 2.2];
  const x = (r: number) => 12 + ((Math.min(Math.max(r, low), high) - low) / (high - low)) * 396;
  const could = (verdict?.labels ?? [])
    .map((l) => ({ name: l.label, r: Math.abs(l.ratio.decimal), p: l.probability }))
    .filter((c) => c.r > low && c.r < high && c.p > 0.004);
  const places = high - low < 0.05 ? 3 : 2;
  return (
    <svg
      viewBox="0 0 420 92"
      className={classes.band}
      role="img"
      aria-label={`Between ${fixed(ratio.low, places)} and ${fixed(ratio.high, places)}`}
    >
      <rect
        x={x(ratio.low)}
        y={34}
        width={Math.max(3, x(ratio.high) - x(ratio.low))}
        height={30}
        className={classes.range}
      />
      <path d="M12 64H408" className={classes.line} />
      <path d={`M${x(ratio.best)} 30V68`} className={classes.best} />
      {could.map((c) => (
        <path key={c.name} d={`M${x(c.r)} 64v${-4 - 24 * c.p}`} className={classes.could} />
      ))}
      {spaced(could, x).map((c) => (
        <text key={c.name} x={x(c.r)} y={24} textAnchor="middle" className={classes.name}>
          {label(c.name)}
        </text>
      ))}
      <text x={12} y={86}>
        {fixed(low, places)}
      </text>
      <text x={408} y={86} textAnchor="end">
        {fixed(high, places)}
      </text>
    </svg>
  );
}

/** The likeliest names that fit beside each other. */
function spaced<T extends { r: number; p: number }>(list: T[], x: (r: number) => number): T[] {
  const out: T[] = [];
  for (const c of [...list].sort((a, b) => b.p - a.p))
    if (out.every((o) => Math.abs(x(o.r) - x(c.r)) > 50)) out.push(c);
  return out;
}
