import { gearPath } from "../../drawing/gear";
import classes from "./changegear.module.css";

/** Both gears in the housing, to scale, with the shaft that each sits on; upright unless it is turned over. */
export function Housing({ input, pinion, over }: { input: number; pinion: number; over: boolean }) {
  const room = 116;
  const rOf = (z: number) => (room * z) / (input + pinion);
  const upper = over ? { z: input, name: "input shaft" } : { z: pinion, name: "pinion shaft" };
  const lower = over ? { z: pinion, name: "pinion shaft" } : { z: input, name: "input shaft" };
  const top = 24 + rOf(upper.z);
  const gear = (g: { z: number; name: string }, y: number, turn: number) => (
    <g transform={`translate(120 ${y})`}>
      <path d={gearPath(g.z, rOf(g.z) + 2.5, 5)} className="metal" transform={`rotate(${turn})`} />
      <circle r={rOf(g.z) - 3} className={classes.pitch} />
      <circle r={13} className="bore" />
      <path d="M-9 -9L9 9M-9 9L9 -9" className={classes.spline} />
    </g>
  );
  const words = (g: { z: number; name: string }, y: number) => (
    <g className={classes.words}>
      <text x={252} y={y - 4} className={classes.teeth}>
        {g.z}
      </text>
      <text x={252} y={y + 16}>
        teeth, {g.name}
      </text>
      <path d={`M${122 + rOf(g.z)} ${y}H246`} className={classes.leader} />
    </g>
  );
  const y2 = top + room;
  return (
    <svg
      viewBox="-14 0 414 290"
      className={classes.housing}
      role="img"
      aria-label={`${input} teeth on the input shaft, ${pinion} on the pinion shaft`}
    >
      <path d="M22 30Q22 8 60 8H180Q218 8 218 30V256Q218 282 180 282H60Q22 282 22 256Z" className={classes.case} />
      {gear(upper, top, 0)}
      {gear(lower, y2, 180 / lower.z)}
      {words(upper, top)}
      {words(lower, y2)}
      <text x={-12} y={24} className={classes.up}>
        ▲ up
      </text>
    </svg>
  );
}
