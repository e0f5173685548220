import type { Part } from "../../api/client";
import { type At, flange, gearR, type Pen, type Plan, pairAt, spider } from "../plan";
import { fedBy } from "../tree";
import { choice, figure, limitedSlip, teeth, yes } from "./fields";
import type { Kind } from "./kind";

type Range = NonNullable<NonNullable<Part["transfer_case"]>["range"]>;

const part: Kind = {
  kind: "transfer_case",
  words: "Transfer case",
  actuated: true,
  family: true,
  rated: true,
  measured: () => true,
  summary: (p) => {
    const r = p.transfer_case?.range;
    if (r?.type === "planetary") return `low: sun ${r.sun}, ring ${r.ring}`;
    return r?.type === "gears" ? `low: ${r.input}-${r.counter}, ${r.low_drive}-${r.low_gear}` : (r?.low ?? "");
  },
  fields: [
    choice("range.type", "Low range by", [
      ["none", "no low range"],
      ["planetary", "planetary set"],
      ["gears", "cluster gears"],
      ["ratio", "ratio only"],
    ]),
    teeth("range.sun", "Low: sun gear", (p) => p.transfer_case?.range?.type === "planetary"),
    teeth("range.ring", "Low: ring gear", (p) => p.transfer_case?.range?.type === "planetary"),
    teeth("range.input", "Input gear", (p) => p.transfer_case?.range?.type === "gears"),
    teeth("range.counter", "Cluster gear on it", (p) => p.transfer_case?.range?.type === "gears"),
    teeth("range.low_drive", "Cluster gear of low", (p) => p.transfer_case?.range?.type === "gears"),
    teeth("range.low_gear", "Low gear", (p) => p.transfer_case?.range?.type === "gears"),
    figure("range.low", "Low ratio", undefined, (p) => p.transfer_case?.range?.type === "ratio"),
    choice("center.type", "Rear and front", [
      ["part_time", "part-time: front locked in by hand"],
      ["open", "center differential"],
      ["limited_slip", "center differential, limited slip"],
      ["planetary", "planetary center, unequal shares"],
      ["solid", "always locked together"],
    ]),
    yes(
      "center.lockable",
      "Center can be locked",
      (p) => !["part_time", "solid"].includes(p.transfer_case?.center?.type ?? ""),
    ),
    {
      ...yes(
        "center.rear_only",
        "Has a rear-only position",
        (p) =>
          p.transfer_case?.front?.type !== "none" &&
          !["part_time", "solid"].includes(p.transfer_case?.center?.type ?? ""),
      ),
      goes: true,
    },
    ...limitedSlip("center.", (p) => p.transfer_case?.center),
    teeth("center.ring", "Center: ring gear", (p) => p.transfer_case?.center?.type === "planetary"),
    teeth("center.sun", "Center: sun gear", (p) => p.transfer_case?.center?.type === "planetary"),
    choice("front.type", "Front output by", [
      ["chain", "chain"],
      ["gears", "gears"],
      ["ratio", "ratio only"],
      ["none", "no front output"],
    ]),
    teeth("front.drive", "Front: drive", (p) => ["chain", "gears"].includes(p.transfer_case?.front?.type ?? "")),
    teeth("front.driven", "Front: driven", (p) => ["chain", "gears"].includes(p.transfer_case?.front?.type ?? "")),
    {
      path: "front.idlers",
      label: "Idlers between",
      type: "teeth",
      when: (p) => p.transfer_case?.front?.type === "gears",
    },
    yes("low_needs_lock", "Low only with the front or center locked"),
  ],
  ports: (p) => (p.transfer_case?.front?.type === "none" ? ["rear"] : ["rear", "front"]),
  ratios: (p) => [
    ...(p.transfer_case?.range?.type === "none" ? [] : ["low"]),
    ...(p.transfer_case?.front?.type === "none" ? [] : ["front"]),
  ],
  start: {
    transfer_case: { range: { type: "planetary" }, center: { type: "part_time" }, front: { type: "chain" } },
  },
  draw(pen, p, at) {
    const { d, plan } = pen;
    const { x, y, shaft } = at;
    const t = p.transfer_case;
    const id = p.id;
    const hasFront = t?.front?.type !== "none";
    const gap = 92;
    const w = 132;
    plan.boxes.push({ part: id, x, y: y - 42, w, h: hasFront ? gap + 76 : 84, round: 6 });
    plan.spots.push({ part: id, x: x + w / 2, y: y - 42, side: "above" });
    const main = t?.range?.type === "none" ? shaft : `${id}.main`;
    const rear = `${id}.rear`;
    if (t?.range?.type === "planetary") planetaryLow(plan, id, t.range, at);
    else if (t?.range?.type === "gears") geared(plan, id, t.range, at);
    plan.rods.push({ shaft, x1: x, y1: y, x2: x + 22, y2: y });
    plan.jumps.push({ mesh: `${id}.high`, x1: x + 14, y1: y, x2: x + 46, y2: y });
    if (main !== shaft) plan.rods.push({ shaft: main, x1: x + 44, y1: y, x2: x + 66, y2: y });
    else plan.rods.push({ shaft, x1: x, y1: y, x2: x + 66, y2: y });
    const drive = `${id}.front drive`;
    const c = t?.center?.type;
    const split = c === "open" || c === "limited_slip" || c === "planetary";
    if (hasFront && split) {
      plan.discs.push({ shaft: main, along: "x", x: x + 68, y, r: 20, half: 6, teeth: 14, look: "ring" });
      spider(plan, `${id}.center`, x + 68, y, [rear, drive], "x");
    }
    const gx = x + 94;
    plan.rods.push({ shaft: rear, x1: x + 74, y1: y, x2: x + w + 16, y2: y });
    plan.jumps.push(
      { mesh: `${id}.main`, x1: x + 60, y1: y, x2: x + 78, y2: y },
      { mesh: `${id}.center`, x1: x + 66, y1: y, x2: gx, y2: y },
      { mesh: `${id}.lock`, x1: x + 66, y1: y, x2: gx, y2: y },
    );
    if (hasFront) frontDrive(pen, p, gx, gap, at);
    const q = fedBy(d, `${id}.rear`);
    if (q) pen.on(q, { x: x + w + 16, y: y, shaft: rear, along: "x" });
    else flange(plan, { shaft: rear, along: "x", x: x + w + 10, y });
  },
};

export default part;

/** A low range by a planetary set, its ring held in the housing. */
function planetaryLow(plan: Plan, id: string, range: Range, { x, y, shaft }: At) {
  plan.discs.push(
    {
      shaft,
      along: "x",
      x: x + 16,
      y,
      r: 13,
      half: 6,
      teeth: range.sun || 16,
      look: "gear",
      mesh: `${id}.low set`,
    },
    {
      shaft: `${id}.carrier`,
      along: "x",
      x: x + 29,
      y,
      r: 25,
      half: 4,
      teeth: 0,
      look: "flange",
      mesh: `${id}.low`,
    },
  );
  plan.boxes.push({ part: id, x: x + 9, y: y - 33, w: 13, h: 7 }, { part: id, x: x + 9, y: y + 26, w: 13, h: 7 });
  plan.jumps.push(
    { mesh: `${id}.low set`, x1: x + 16, y1: y, x2: x + 29, y2: y },
    { mesh: `${id}.low`, x1: x + 29, y1: y, x2: x + 42, y2: y },
  );
}

/** A low range by two pairs over a cluster. */
function geared(plan: Plan, id: string, range: Range, { x, y, shaft }: At) {
  const a = gearR(range.input, range.counter);
  const b = gearR(range.low_gear, range.low_drive);
  const cluster = `${id}.cluster`;
  pairAt(plan, `${id}.cluster drive`, shaft, cluster, x + 14, y, 44, range.input, range.counter, a, 44 - a);
  pairAt(plan, `${id}.low gears`, `${id}.low gear`, cluster, x + 34, y, 44, range.low_gear, range.low_drive, b, 44 - b);
  plan.rods.push({ shaft: cluster, x1: x + 6, y1: y + 44, x2: x + 44, y2: y + 44 });
  plan.jumps.push({ mesh: `${id}.low`, x1: x + 34, y1: y, x2: x + 46, y2: y });
}

/** The drive down to the front output, which runs forward beside engine and gearbox. */
function frontDrive(pen: Pen, p: Part, gx: number, gap: number, { x, y }: At) {
  const { d, plan } = pen;
  const id = p.id;
  const t = p.transfer_case;
  const rear = `${id}.rear`;
  const drive = `${id}.front drive`;
  const front = `${id}.front`;
  const chain = t?.front?.type === "chain";
  const idler = (t?.front?.idlers ?? 0) > 0;
  const r = chain ? 19 : idler ? 24 : gap / 2;
  pairAt(plan, `${id}.front`, drive, front, gx, y, gap, t?.front?.drive, t?.front?.driven, r, r, chain);
  // An idler's own teeth aren't known, so it is only hinted at.
  if (idler && !chain) plan.belts.push({ mesh: `${id}.front`, x1: gx, y1: y + r, x2: gx, y2: y + gap - r });
  if (t?.center?.type === "part_time" || t?.center?.lockable)
    plan.discs.push({
      shaft: rear,
      along: "x",
      x: gx + 17,
      y,
      r: 10,
      half: 4,
      teeth: 0,
      look: "clutch",
      slide: [{ mesh: `${id}.lock`, by: -6 }],
    });
  const end = fedBy(d, `${id}.front`);
  const ax = 98;
  if (end) {
    plan.rods.push({ shaft: front, x1: gx + 8, y1: y + gap, x2: x - 14, y2: y + gap });
    frontLine(pen, end, x - 14, y + gap, ax, front);
  } else {
    plan.rods.push({ shaft: front, x1: gx + 8, y1: y + gap, x2: x - 30, y2: y + gap });
    flange(plan, { shaft: front, along: "x", x: x - 24, y: y + gap });
  }
}

/** What leads forward to the front axle. */
function frontLine(pen: Pen, p: Part, x: number, y: number, ax: number, shaft: string) {
  const { d, plan } = pen;
  if (p.kind === "axle") {
    plan.rods.push({ shaft, x1: x, y1: y, x2: ax + 62, y2: y });
    pen.on(p, { x: ax + 62, y, shaft, along: "x", back: true });
    return;
  }
  const own = p.kind === "shaft" ? `${p.id}.shaft` : `${p.id}.out`;
  const after = fedBy(d, p.id);
  const end = after?.kind === "axle" ? ax + 62 : x - 60;
  plan.rods.push({ shaft: own, x1: x, y1: y, x2: end, y2: y });
  plan.jumps.push(
    { mesh: `${p.id}.joint`, x1: x + 6, y1: y, x2: x, y2: y },
    { mesh: `${p.id}.mesh`, x1: x + 6, y1: y, x2: x, y2: y },
  );
  for (const t of [0.06, 0.94])
    plan.discs.push({ shaft: own, along: "x", x: x + (end - x) * t, y, r: 10, half: 6, teeth: 0, look: "flange" });
  plan.spots.push({ part: p.id, x: (x + end) / 2, y: y + 14, side: "below" });
  if (after) frontLine(pen, after, end, y, ax, own);
  else flange(plan, { shaft: own, along: "x", x: end, y });
}
