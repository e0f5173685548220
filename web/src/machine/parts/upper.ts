import { teeth, yes } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "upper",
  words: "Upper set",
  mounts: true,
  actuated: true,
  rated: true,
  fields: [
    teeth("pinion", "Pinion"),
    teeth("gear", "Gear"),
    yes("shift", "Shifts here: forward, neutral, reverse"),
    yes("gear_above", "Its gear sits above the pinion"),
  ],
  ratios: () => ["ratio"],
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, shaft } = at;
    const id = p.id;
    const z = p.upper;
    plan.boxes.push({ part: id, x: x + 6, y: y - 40, w: 96, h: 100, round: 8 });
    plan.spots.push({ part: id, x: x + 54, y: y - 40, side: "above" });
    plan.rods.push({ shaft, x1: x, y1: y, x2: x + 32, y2: y });
    plan.discs.push({
      shaft,
      along: "x",
      x: x + 32,
      y,
      r: 14,
      half: 7,
      teeth: z?.pinion || 14,
      look: "gear",
      cone: 1,
      mesh: z?.shift ? `${id}.forward set` : `${id}.set`,
    });
    const cx = x + 60;
    // The gear that drives ahead sits below the pinion, or above it.
    const below = z?.gear_above ? -1 : 1;
    if (z?.shift) {
      plan.discs.push(
        {
          shaft: `${id}.forward gear`,
          along: "y",
          x: cx,
          y: y + 20 * below,
          r: 24,
          half: 6,
          teeth: z.gear || 20,
          look: "gear",
          cone: below === 1 ? -1 : 1,
          mesh: `${id}.forward set`,
        },
        {
          shaft: `${id}.reverse gear`,
          along: "y",
          x: cx,
          y: y - 20 * below,
          r: 24,
          half: 6,
          teeth: z.gear || 20,
          look: "gear",
          cone: below === 1 ? 1 : -1,
          mesh: `${id}.reverse set`,
        },
      );
      plan.jumps.push(
        { mesh: `${id}.forward set`, x1: x + 32, y1: y, x2: cx, y2: y + 20 * below },
        { mesh: `${id}.reverse set`, x1: x + 32, y1: y, x2: cx, y2: y - 20 * below },
        { mesh: `${id}.forward dogs`, x1: cx, y1: y + 20 * below, x2: cx, y2: y + 36 },
        { mesh: `${id}.reverse dogs`, x1: cx, y1: y - 20 * below, x2: cx, y2: y + 36 },
      );
    } else {
      plan.discs.push({
        shaft: `${id}.out`,
        along: "y",
        x: cx,
        y: y + 20 * below,
        r: 24,
        half: 6,
        teeth: z?.gear || 20,
        look: "gear",
        mesh: `${id}.set`,
      });
      plan.jumps.push({ mesh: `${id}.set`, x1: x + 32, y1: y, x2: cx, y2: y + 20 * below });
    }
    plan.rods.push({ shaft: `${id}.out`, x1: cx, y1: y + 28, x2: cx, y2: y + 70 });
    pen.next(p, "", { x: cx, y: y + 70, shaft: `${id}.out`, along: "y" });
  },
};

export default part;
