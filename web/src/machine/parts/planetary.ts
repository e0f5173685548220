import type { Plan } from "../plan";
import { choice, teeth, yes } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "planetary",
  words: "Planetary set",
  rated: true,
  measured: () => true,
  fields: [
    teeth("sun", "Sun gear"),
    teeth("ring", "Ring gear"),
    teeth("planet", "One planet"),
    { path: "planets", label: "Number of planets", type: "teeth" },
    yes("paired", "Paired planets"),
    choice("input", "Driven", [
      ["sun", "sun"],
      ["ring", "ring"],
      ["carrier", "carrier"],
    ]),
    choice("output", "Drives on", [
      ["carrier", "carrier"],
      ["ring", "ring"],
      ["sun", "sun"],
    ]),
    choice("held", "Held", [
      ["ring", "ring"],
      ["sun", "sun"],
      ["carrier", "carrier"],
    ]),
    yes("two_speed", "Shifted: high locks it, low holds"),
  ],
  ratios: () => ["ratio"],
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, shaft, along } = at;
    const id = p.id;
    plan.boxes.push({ part: id, x, y: y - 44, w: 84, h: 88, round: 6 });
    plan.spots.push({ part: id, x: x + 42, y: y - 44, side: "above" });
    planets(plan, id, "set", x + 34, y, shaft, `${id}.out`, 38);
    plan.rods.push(
      { shaft, x1: x, y1: y, x2: x + 34, y2: y },
      { shaft: `${id}.out`, x1: x + 46, y1: y, x2: x + 104, y2: y },
    );
    pen.next(p, "", { x: x + 104, y: y, shaft: `${id}.out`, along });
  },
};

export default part;

/** A planetary set seen from its side: the ring as an outline, sun and carrier on the line. */
function planets(plan: Plan, id: string, mesh: string, x: number, y: number, sun: string, out: string, r: number) {
  plan.discs.push(
    { shaft: sun, along: "x", x: x - 4, y, r: r * 0.42, half: 5, teeth: 14, look: "gear", mesh: `${id}.${mesh}` },
    { shaft: out, along: "x", x: x + 8, y, r: r * 0.8, half: 4, teeth: 0, look: "flange" },
  );
  plan.boxes.push({ part: id, x: x - 9, y: y - r, w: 10, h: 8 }, { part: id, x: x - 9, y: y + r - 8, w: 10, h: 8 });
  plan.jumps.push({ mesh: `${id}.${mesh}`, x1: x - 4, y1: y, x2: x + 8, y2: y });
}
