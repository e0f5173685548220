import type { Kind } from "./kind";

export const wheel: Kind = {
  words: "Wheel",
  ports: () => [],
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, shaft, along } = at;
    const id = p.id;
    plan.rods.push({ shaft, x1: x, y1: y, x2: x + 20, y2: y });
    plan.discs.push({ shaft: `${id}.wheel`, along, x: x + 40, y, r: 40, half: 20, teeth: 20, look: "wheel" });
    plan.jumps.push({ mesh: `${id}.half shaft`, x1: x, y1: y, x2: x + 40, y2: y });
    plan.spots.push({ part: id, x: x + 40, y: y + 40, side: "below" });
  },
};
