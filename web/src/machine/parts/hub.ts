import type { Kind } from "./kind";

export const hub: Kind = {
  words: "Hub reduction",
  ratios: () => ["ratio"],
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, shaft, along } = at;
    const id = p.id;
    plan.rods.push({ shaft, x1: x, y1: y, x2: x + 30, y2: y });
    pen.next(p, "", { x: x + 30, y: y, shaft: `${id}.out`, along });
  },
};
