import { choice, figure } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "wheel",
  words: "Wheel",
  end: true,
  plain: true,
  fields: [
    choice("at", "End", [
      ["front", "front"],
      ["rear", "rear"],
    ]),
    choice("side", "Side", [
      ["left", "left"],
      ["right", "right"],
    ]),
    figure("rolling_mm", "Rolling circumference, mm", "mark tire and floor, roll one turn loaded, measure"),
  ],
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

export default part;
