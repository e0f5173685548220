import type { Part } from "../../api/client";
import { type At, gearR, type Plan, pairAt, spider } from "../plan";
import { fedBy } from "../tree";
import { choice, diffTypes, figure, limitedSlip, teeth, yes } from "./fields";
import { halfAxle } from "./halfAxle";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "axle",
  words: "Axle",
  mounts: true,
  actuated: true,
  family: true,
  rated: true,
  measured: () => true,
  stages: [
    ["second", "Second, planetary stage"],
    ["change", "Change gears ahead of the pinion"],
  ],
  summary: ({ axle: a }) =>
    `${a?.ring ? `${a.ring} : ${a.pinion}` : (a?.ratio ?? "?")}${a?.second ? ` · ${a.second.sun}-${a.second.ring}` : ""}`,
  fields: [
    teeth("ring", "Ring gear"),
    teeth("pinion", "Pinion"),
    figure("ratio", "Ratio, where teeth aren't known", undefined, (p) => !p.axle?.ring),
    choice("differential.type", "Differential", diffTypes),
    ...limitedSlip("differential.", (p) => p.axle?.differential),
    choice("ring_side", "Ring sits", [
      ["left", "left of the pinion"],
      ["right", "right of the pinion"],
    ]),
    choice("pinion_at", "Pinion", [
      ["ahead", "ahead of the axle"],
      ["behind", "behind the axle"],
    ]),
    yes("hypoid", "Hypoid: pinion passes the axle's line"),
    choice("cut", "Cut", [
      ["standard", "standard"],
      ["reverse", "reverse"],
      ["straight", "straight bevel"],
    ]),
    choice("gears", "Gears", [
      ["bevel", "bevel"],
      ["spur", "spur, crosswise"],
    ]),
    teeth("second.sun", "Second stage: sun", (p) => Boolean(p.axle?.second)),
    teeth("second.ring", "Second stage: ring", (p) => Boolean(p.axle?.second)),
    teeth("change.input", "Change gear on the input shaft", (p) => Boolean(p.axle?.change)),
    teeth("change.pinion", "Change gear on the pinion shaft", (p) => Boolean(p.axle?.change)),
    yes("free_hubs", "Hubs can be unlocked", (p) => !p.axle?.disconnect),
    choice(
      "disconnect",
      "One axle shaft can be disconnected",
      [
        ["", "no"],
        ["left", "the left one"],
        ["right", "the right one"],
      ],
      (p) => !p.axle?.free_hubs,
    ),
    { path: "stub_nm", label: "One stub or joint is rated, N·m", type: "number" },
  ],
  ports: () => ["left", "right"],
  ratios: (p) => (p.axle?.change ? ["ratio", "change"] : ["ratio"]),
  start: { axle: { differential: { type: "open" } } },
  draw(pen, p, at) {
    const { d, plan } = pen;
    const { x, y, shaft } = at;
    const a = p.axle;
    const id = p.id;
    const dir = at.back ? -1 : 1;
    const turned = p.mounting === "turned_over" || p.mounting === "end_for_end";
    const left = (a?.ring_side ?? "left") === "left" ? !turned : turned;
    let px = x;
    let py = y;
    let pinion = shaft;
    if (a?.change) {
      const r = gearR(a.change.input, a.change.pinion);
      const cx = x + dir * 18;
      pinion = `${id}.pinion`;
      plan.boxes.push({ part: id, x: Math.min(x, x + dir * 36), y: y - 28, w: 36, h: 100, round: 5 });
      pairAt(plan, `${id}.change`, shaft, pinion, cx, y, 44, a.change.input, a.change.pinion, r, 44 - r);
      plan.rods.push({ shaft, x1: x, y1: y, x2: cx + dir * 8, y2: y });
      px = cx;
      py = y + 44;
    }
    // The axle's line, with the pinion's length before it.
    const cx = px + dir * 62;
    plan.boxes.push({ part: id, x: cx - 38, y: py - 44, w: 76, h: 88, round: 30 });
    // A front axle has its label between the engine and its own shaft, clear of its housing.
    plan.spots.push({ part: id, x: cx + 42, y: at.back ? py - 27 : py, side: "right" });
    finalDrive(plan, p, { x: px, y: py, shaft: pinion, along: "x" }, cx, dir, left ? 1 : -1);
    for (const s of [1, -1]) {
      const port = s === 1 ? "left" : "right";
      const loose = a?.disconnect === port;
      const hub = a?.free_hubs ? `${id}.${port} hub` : loose ? `${id}.half shaft` : `${id}.${port}`;
      halfAxle(
        d,
        plan,
        fedBy(d, `${id}.${port}`),
        cx,
        py,
        s,
        `${id}.${port}`,
        hub,
        loose ? `${id}.disconnect` : `${id}.${port} hub lock`,
      );
      plan.jumps.push({ mesh: `${id}.differential`, x1: cx, y1: py, x2: cx, y2: py + s * 12 });
      if (s === 1) plan.jumps.push({ mesh: `${id}.lock`, x1: cx, y1: py, x2: cx, y2: py + 12 });
    }
  },
};

export default part;

/** Pinion, ring and differential on the axle's line at x; side is 1 with the ring at the vehicle's left, which is at the bottom. */
function finalDrive(plan: Plan, p: Part, at: At, x: number, dir: 1 | -1, side: 1 | -1) {
  const a = p.axle;
  const id = p.id;
  plan.rods.push({ shaft: at.shaft, x1: at.x, y1: at.y, x2: x - dir * 30, y2: at.y });
  plan.discs.push({
    shaft: at.shaft,
    along: "x",
    x: x - dir * 30,
    y: at.y,
    r: 11,
    half: 8,
    teeth: a?.pinion || 10,
    look: "gear",
    mesh: `${id}.final`,
    cone: a?.gears === "spur" ? undefined : dir,
  });
  const ry = at.y + side * 16;
  plan.discs.push({
    shaft: `${id}.ring`,
    along: "y",
    x,
    y: ry,
    r: 33,
    half: 6,
    teeth: Math.min(a?.ring || 40, 44),
    look: "ring",
    mesh: `${id}.final`,
    cone: a?.gears === "spur" ? undefined : side === 1 ? -1 : 1,
  });
  plan.jumps.push(
    { mesh: `${id}.final`, x1: x - dir * 30, y1: at.y, x2: x, y2: ry },
    { mesh: `${id}.differential`, x1: x, y1: ry, x2: x, y2: at.y },
  );
  if (a?.second) {
    plan.discs.push({
      shaft: `${id}.carrier`,
      along: "y",
      x,
      y: ry - side * 12,
      r: 22,
      half: 4,
      teeth: 0,
      look: "flange",
    });
    plan.jumps.push({ mesh: `${id}.second`, x1: x, y1: ry, x2: x, y2: at.y });
  }
  spider(plan, `${id}.differential`, x, at.y, [`${id}.left`, `${id}.right`], "y");
  if (a?.differential?.type === "locking")
    plan.discs.push({
      shaft: `${id}.left`,
      along: "y",
      x,
      y: at.y + 30,
      r: 9,
      half: 3,
      teeth: 0,
      look: "clutch",
      slide: [{ mesh: `${id}.lock`, by: -8 }],
    });
}
