import { choice, teeth } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "hub",
  words: "Hub reduction",
  rated: true,
  measured: () => true,
  fields: [
    choice("type", "Type", [
      ["planetary", "planetary"],
      ["portal", "portal gears"],
    ]),
    teeth("sun", "Sun gear", (p) => p.hub?.type !== "portal"),
    teeth("ring", "Ring gear", (p) => p.hub?.type !== "portal"),
    teeth("drive", "Drive gear", (p) => p.hub?.type === "portal"),
    teeth("driven", "Driven gear", (p) => p.hub?.type === "portal"),
    { path: "idlers", label: "Idlers between", type: "teeth", when: (p) => p.hub?.type === "portal" },
  ],
  ratios: () => ["ratio"],
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, shaft, along } = at;
    const id = p.id;
    plan.rods.push({ shaft, x1: x, y1: y, x2: x + 30, y2: y });
    pen.next(p, "", { x: x + 30, y: y, shaft: `${id}.out`, along });
  },
};

export default part;
