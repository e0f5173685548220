import { choice, figure } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "clutch",
  words: "Clutch or converter",
  rated: true,
  fields: [
    choice("type", "Type", [
      ["clutch", "clutch"],
      ["converter", "converter"],
    ]),
    figure("slip", "Slip while slipping (part of the speed)", "0.05 is typical", (p) => p.clutch?.type === "converter"),
  ],
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, shaft, along } = at;
    const id = p.id;
    const open = 4;
    plan.discs.push({ shaft, along, x: x + 6, y, r: 24, half: 5, teeth: 0, look: "clutch" });
    plan.discs.push({ shaft: `${id}.out`, along, x: x + 16 + open, y, r: 24, half: 5, teeth: 0, look: "clutch" });
    plan.rods.push({ shaft, x1: x, y1: y, x2: x + 6, y2: y });
    plan.rods.push({ shaft: `${id}.out`, x1: x + 20, y1: y, x2: x + 50, y2: y });
    plan.jumps.push(
      { mesh: `${id}.clutch`, x1: x + 6, y1: y, x2: x + 20, y2: y },
      { mesh: `${id}.fluid`, x1: x + 6, y1: y, x2: x + 20, y2: y },
    );
    plan.spots.push({ part: id, x: x + 13, y: y + 30, side: "below" });
    pen.next(p, "", { x: x + 50, y: y, shaft: `${id}.out`, along });
  },
};

export default part;
