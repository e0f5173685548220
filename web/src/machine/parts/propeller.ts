import { choice } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "propeller",
  words: "Propeller",
  end: true,
  fields: [
    { path: "pitch_in", label: "Pitch, inches", type: "number" },
    choice("hand", "Hand", [
      ["right", "right-hand"],
      ["left", "left-hand"],
    ]),
  ],
  ports: () => [],
  draw(pen, p, at) {
    const { plan } = pen;
    const { x, y, shaft } = at;
    plan.rods.push({ shaft, x1: x, y1: y, x2: x + 18, y2: y });
    plan.jumps.push({ mesh: `${p.id}.hub`, x1: x, y1: y, x2: x + 26, y2: y });
    plan.discs.push({ shaft: `${p.id}.prop`, along: "x", x: x + 26, y, r: 52, half: 11, teeth: 0, look: "prop" });
    const second = plan.discs.filter((c) => c.look === "prop").length > 1;
    plan.spots.push({ part: p.id, x: x + 26, y: second ? y - 54 : y + 54, side: second ? "above" : "below" });
  },
};

export default part;
