import { crosswise } from "./crosswise";
import { choice } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "engine",
  words: "Engine",
  /** Power enters here. */
  source: true,
  fields: [
    choice("axis", "It lies", [
      ["lengthwise", "lengthwise"],
      ["crosswise", "crosswise"],
      ["upright", "upright"],
    ]),
    { path: "torque_nm", label: "Greatest torque, N·m", type: "number" },
  ],
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, along } = at;
    const id = p.id;
    if (p.engine?.axis === "upright") {
      plan.boxes.push({ part: id, x: x + 70, y: y - 70, w: 120, h: 74, round: 12 });
      plan.spots.push({ part: id, x: x + 130, y: y - 70, side: "above" });
      plan.rods.push({ shaft: `${id}.crank`, x1: x + 130, y1: y - 60, x2: x + 130, y2: y + 24 });
      plan.discs.push({
        shaft: `${id}.crank`,
        along: "y",
        x: x + 130,
        y: y - 40,
        r: 36,
        half: 10,
        teeth: 0,
        look: "flange",
      });
      pen.next(p, "", { x: x + 130, y: y + 24, shaft: `${id}.crank`, along: "y" });
      return;
    }
    if (p.engine?.axis === "crosswise") {
      const ey = y + 60;
      plan.boxes.push({ part: id, x: x + 40, y: ey, w: 86, h: 100, round: 6 });
      plan.spots.push({ part: id, x: x + 83, y: ey + 100, side: "below" });
      plan.rods.push({ shaft: `${id}.crank`, x1: x + 83, y1: ey + 92, x2: x + 83, y2: ey });
      plan.discs.push({
        shaft: `${id}.crank`,
        along: "y",
        x: x + 83,
        y: ey + 16,
        r: 32,
        half: 7,
        teeth: 0,
        look: "flange",
      });
      crosswise(pen, p, x + 83, ey);
      return;
    }
    plan.boxes.push({ part: id, x, y: y - 42, w: 92, h: 84, round: 6 });
    plan.spots.push({ part: id, x: x + 46, y: y - 42, side: "above" });
    plan.rods.push({ shaft: `${id}.crank`, x1: x + 8, y1: y, x2: x + 112, y2: y });
    plan.discs.push({ shaft: `${id}.crank`, along: "x", x: x + 82, y, r: 34, half: 7, teeth: 0, look: "flange" });
    pen.next(p, "", { x: x + 112, y: y, shaft: `${id}.crank`, along });
  },
};

export default part;
