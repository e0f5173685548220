import { gearR, pairAt } from "../plan";
import { choice, teeth } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "gear_pair",
  words: "Gear or chain pair",
  rated: true,
  measured: () => true,
  fields: [
    teeth("drive", "Drive"),
    teeth("driven", "Driven"),
    choice("mesh", "By", [
      ["external", "gears"],
      ["chain", "chain"],
      ["internal", "internal gears"],
    ]),
    { path: "idlers", label: "Idlers between", type: "teeth" },
  ],
  ratios: () => ["ratio"],
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, shaft, along } = at;
    const id = p.id;
    const z = p.gear_pair;
    const chain = z?.mesh === "chain";
    const gap = chain ? 76 : 48;
    const a = gearR(z?.drive, z?.driven, 48);
    plan.boxes.push({ part: id, x, y: y - 30, w: 50, h: gap + 60, round: 6 });
    plan.spots.push({ part: id, x: x + 25, y: y + gap + 30, side: "below" });
    pairAt(
      plan,
      `${id}.mesh`,
      shaft,
      `${id}.out`,
      x + 25,
      y,
      gap,
      z?.drive,
      z?.driven,
      chain ? 22 : a,
      chain ? 22 : 48 - a,
      chain,
    );
    plan.rods.push(
      { shaft, x1: x, y1: y, x2: x + 36, y2: y },
      { shaft: `${id}.out`, x1: x + 10, y1: y + gap, x2: x + 60, y2: y + gap },
    );
    pen.next(p, "", { x: x + 60, y: y + gap, shaft: `${id}.out`, along });
  },
};

export default part;
