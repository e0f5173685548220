import { figure, yes } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "reverse_gear",
  words: "Reverse gear",
  actuated: true,
  rated: true,
  fields: [
    figure("ahead", "Ratio ahead"),
    figure("astern", "Ratio astern"),
    yes("opposite", "Ahead, the flange turns against the engine"),
  ],
  ratios: () => ["ahead", "astern"],
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, shaft, along } = at;
    const id = p.id;
    plan.boxes.push({ part: id, x, y: y - 36, w: 92, h: 96, round: 8 });
    plan.spots.push({ part: id, x: x + 46, y: y - 36, side: "above" });
    plan.rods.push(
      { shaft, x1: x, y1: y, x2: x + 60, y2: y },
      { shaft: `${id}.out`, x1: x + 24, y1: y + 34, x2: x + 110, y2: y + 34 },
    );
    for (const [mesh, gx, on] of [
      [`${id}.ahead`, x + 30, true],
      [`${id}.astern`, x + 54, false],
    ] as const) {
      plan.discs.push(
        { shaft, along: "x", x: gx, y, r: 13, half: 6, teeth: 18, look: "gear", mesh },
        { shaft: `${id}.out`, along: "x", x: gx, y: y + 34, r: on ? 21 : 19, half: 6, teeth: 30, look: "gear", mesh },
      );
      plan.jumps.push({ mesh, x1: gx, y1: y, x2: gx, y2: y + 34 });
    }
    pen.next(p, "", { x: x + 110, y: y + 34, shaft: `${id}.out`, along });
  },
};

export default part;
