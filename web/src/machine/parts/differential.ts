import { spider } from "../plan";
import { fedBy } from "../tree";
import { choice, diffTypes, limitedSlip, teeth } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "differential",
  words: "Inter-axle differential",
  rated: true,
  fields: [
    choice("type", "Type", [...diffTypes.slice(0, 3), ["planetary", "planetary, unequal shares"]]),
    ...limitedSlip("", (p) => p.differential),
    teeth("ring", "Ring gear", (p) => p.differential?.type === "planetary"),
    teeth("sun", "Sun gear", (p) => p.differential?.type === "planetary"),
  ],
  ports: () => ["here", "through"],
  draw(pen, p, at) {
    const { d, plan } = pen;
    const { x, y, shaft } = at;
    const id = p.id;
    plan.boxes.push({ part: id, x, y: y - 34, w: 66, h: 68, round: 6 });
    plan.spots.push({ part: id, x: x + 33, y: y - 34, side: "above" });
    plan.rods.push({ shaft, x1: x, y1: y, x2: x + 24, y2: y });
    plan.discs.push({ shaft, along: "x", x: x + 24, y, r: 24, half: 6, teeth: 16, look: "ring" });
    spider(plan, `${id}.differential`, x + 24, y, [`${id}.through`, `${id}.here`], "x");
    plan.rods.push({ shaft: `${id}.through`, x1: x + 34, y1: y, x2: x + 84, y2: y });
    plan.jumps.push({ mesh: `${id}.differential`, x1: x + 24, y1: y, x2: x + 34, y2: y });
    // The near output leaves below, ahead of its axle; the through shaft goes on over it.
    plan.rods.push({ shaft: `${id}.here`, x1: x + 34, y1: y + 14, x2: x + 84, y2: y + 14 });
    plan.jumps.push({ mesh: `${id}.differential`, x1: x + 24, y1: y, x2: x + 34, y2: y + 14 });
    const here = fedBy(d, `${id}.here`);
    if (here) pen.on(here, { x: x + 84, y: y + 14, shaft: `${id}.here`, along: "x" });
    const through = fedBy(d, `${id}.through`);
    // Room for the first axle and its wheels.
    if (through) {
      plan.rods.push({ shaft: `${id}.through`, x1: x + 84, y1: y, x2: x + 270, y2: y });
      pen.on(through, { x: x + 270, y: y, shaft: `${id}.through`, along: "x" });
    }
  },
};

export default part;
