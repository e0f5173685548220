import type { Doc, Part } from "../../api/client";
import { flange, middle, type Plan, reach } from "../plan";
import { fedBy } from "../tree";

/** One side of an axle out to its wheel. */
export function halfAxle(
  d: Doc,
  plan: Plan,
  p: Part | undefined,
  x: number,
  y: number,
  s: number,
  shaft: string,
  hub: string,
  lock: string,
) {
  const end = middle + s * reach;
  let at = y + s * 8;
  let sh = shaft;
  let q = p;
  if (hub !== shaft) {
    plan.rods.push({ shaft, x1: x, y1: at, x2: x, y2: end - s * 40 });
    plan.jumps.push({ mesh: lock, x1: x, y1: end - s * 44, x2: x, y2: end - s * 36 });
    sh = hub;
    at = end - s * 40;
  }
  while (q?.kind === "hub") {
    const hy = end - s * 44;
    const out = `${q.id}.out`;
    plan.rods.push({ shaft: sh, x1: x, y1: at, x2: x, y2: hy });
    if (q.hub?.type === "portal") {
      plan.discs.push(
        {
          shaft: sh,
          along: "y",
          x: x - 13,
          y: hy,
          r: 12,
          half: 6,
          teeth: q.hub.drive || 14,
          look: "gear",
          mesh: `${q.id}.mesh`,
        },
        {
          shaft: out,
          along: "y",
          x: x + 12,
          y: hy,
          r: 20,
          half: 6,
          teeth: q.hub.driven || 24,
          look: "gear",
          mesh: `${q.id}.mesh`,
        },
      );
      plan.jumps.push({ mesh: `${q.id}.mesh`, x1: x, y1: hy, x2: x, y2: hy + s * 10 });
    } else {
      plan.discs.push(
        { shaft: sh, along: "y", x, y: hy, r: 11, half: 5, teeth: q.hub?.sun || 14, look: "gear", mesh: `${q.id}.set` },
        { shaft: out, along: "y", x, y: hy + s * 11, r: 24, half: 4, teeth: 0, look: "flange" },
      );
      plan.jumps.push({ mesh: `${q.id}.set`, x1: x, y1: hy, x2: x, y2: hy + s * 12 });
    }
    plan.boxes.push({ part: q.id, x: x - 34, y: hy - 13 + (s < 0 ? -12 : 0), w: 68, h: 36, round: 5 });
    plan.spots.push({ part: q.id, x: x + 34, y: hy, side: "right" });
    sh = out;
    at = hy + s * 12;
    q = fedBy(d, q.id);
  }
  if (q?.kind === "wheel") {
    plan.rods.push({ shaft: sh, x1: x, y1: at, x2: x, y2: end });
    plan.discs.push({ shaft: `${q.id}.wheel`, along: "y", x, y: end, r: 46, half: 19, teeth: 22, look: "wheel" });
    plan.jumps.push({ mesh: `${q.id}.half shaft`, x1: x, y1: end - s * 24, x2: x, y2: end });
    plan.spots.push({ part: q.id, x, y: end + s * 21, side: s > 0 ? "below" : "above" });
    return;
  }
  const stop = y + s * 96;
  plan.rods.push({ shaft: sh, x1: x, y1: at, x2: x, y2: stop });
  flange(plan, { shaft: sh, along: "y", x, y: stop }, 17);
}
