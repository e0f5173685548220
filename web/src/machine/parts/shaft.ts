import type { Kind } from "./kind";

const part: Kind = {
  kind: "shaft",
  words: "Shaft",
  plain: true,
  rated: true,
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, along } = at;
    const id = p.id;
    const len = along === "x" ? 96 : 90;
    const [ex, ey] = along === "x" ? [x + len, y] : [x, y + len];
    plan.rods.push({ shaft: `${id}.shaft`, x1: x, y1: y, x2: ex, y2: ey });
    plan.jumps.push({ mesh: `${id}.joint`, x1: x - 6, y1: y, x2: x, y2: y });
    for (const t of [0.12, 0.88]) {
      plan.discs.push({
        shaft: `${id}.shaft`,
        along,
        x: along === "x" ? x + len * t : x,
        y: along === "x" ? y : y + len * t,
        r: 10,
        half: 6,
        teeth: 0,
        look: "flange",
      });
    }
    plan.spots.push({
      part: id,
      x: along === "x" ? x + len / 2 : x + 16,
      y: along === "x" ? y + 14 : y + len / 2,
      side: along === "x" ? "below" : "right",
    });
    pen.next(p, "", { x: ex, y: ey, shaft: `${id}.shaft`, along });
  },
};

export default part;
