import type { SetupAround } from "../../api/client";
import { fixed } from "../../format/numbers";
import classes from "./setup.module.css";

/** The places around the ring gear, and what comes once per turn. */
export function RingPlaces({ around }: { around: SetupAround }) {
  const list = around.places;
  const top = Math.max(...list.map((p) => p.mm), 0.01);
  const at = (deg: number, r: number): [number, number] => {
    const a = ((deg - 90) * Math.PI) / 180;
    return [70 + Math.cos(a) * r, 70 + Math.sin(a) * r];
  };
  const once = around.once;
  const [hx, hy] = once ? at(once.at_deg, 62) : [70, 70];
  return (
    <svg
      viewBox="0 0 140 140"
      className={classes.places}
      role="img"
      aria-label={`Backlash around the ring, ${around.counted} places`}
    >
      <circle cx={70} cy={70} r={50} className={classes.ringLine} />
      {list.map((p, i) => {
        const [x, y] = at(p.at_deg, 50);
        const [tx, ty] = at(p.at_deg, 34);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: places are known by their order
          <g key={i}>
            <circle
              cx={x}
              cy={y}
              r={p.out ? 3 : 2.5 + (5 * p.mm) / top}
              className={p.out ? classes.placeOut : classes.place}
            />
            {list.length <= 12 && (
              <text x={tx} y={ty + 3} className={classes.placeText}>
                {p.out ? "–" : fixed(p.mm, 2).replace(/^0/, "")}
              </text>
            )}
          </g>
        );
      })}
      {once?.seen && <path d={`M70 70L${hx} ${hy}`} className={classes.once} />}
      <path d="M70 6v10" className={classes.markLine} />
    </svg>
  );
}
