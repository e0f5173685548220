import type { Part } from "../../api/client";
import { decimalOf } from "../../format/numbers";
import { type At, gearR, type Plan, pairAt } from "../plan";
import { choice, teeth } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "gearbox",
  words: "Gearbox",
  actuated: true,
  family: true,
  rated: true,
  measured: (p) => p.gearbox?.arrangement === "ratios",
  summary: (p) =>
    (p.gearbox?.gears ?? [])
      .map(
        (g) =>
          `${g.name}: ${g.direct ? "direct" : g.ratio ? decimalOf(g.ratio) : g.drive ? `${g.driven}/${g.drive}` : "?"}`,
      )
      .join(" · "),
  fields: [
    choice("arrangement", "Known as", [
      ["ratios", "a list of ratios"],
      ["countershaft", "countershaft teeth"],
      ["two_shaft", "two-shaft teeth"],
    ]),
    teeth("input", "Input gear", (p) => p.gearbox?.arrangement === "countershaft"),
    teeth("counter", "Countershaft gear on it", (p) => p.gearbox?.arrangement === "countershaft"),
  ],
  ratios: (p) => p.gearbox?.gears.map((g) => g.name) ?? [],
  start: { gearbox: { arrangement: "ratios", gears: ["1", "2", "3", "4", "R"].map((name) => ({ name })) } },
  draw(pen, p, at) {
    const { along } = at;
    pen.next(p, "", { x: box(pen.plan, p, at), y: at.y, shaft: `${p.id}.out`, along });
  },
};

export default part;

/** Draws a gearbox and returns where its output leaves. */
function box(plan: Plan, p: Part, { x, y, shaft }: At): number {
  const g = p.gearbox;
  const id = p.id;
  const gears = g?.gears ?? [];
  const counter = g?.arrangement === "countershaft";
  const out = `${id}.out`;
  if (!g || g.arrangement === "ratios") {
    // Teeth aren't known: the box with one pair for the gear that is in.
    const w = 128;
    plan.boxes.push({ part: id, x, y: y - 32, w, h: 64, round: 6 });
    plan.spots.push({ part: id, x: x + w / 2, y: y - 32, side: "above" });
    plan.rods.push(
      { shaft, x1: x, y1: y, x2: x + w / 2 - 8, y2: y },
      { shaft: out, x1: x + w / 2 + 4, y1: y, x2: x + w + 16, y2: y },
    );
    plan.discs.push(
      { shaft, along: "x", x: x + w / 2 - 20, y, r: 14, half: 7, teeth: 18, look: "gear" },
      { shaft: out, along: "x", x: x + w / 2 + 20, y, r: 20, half: 7, teeth: 26, look: "gear" },
    );
    for (const x1 of ["direct", ...gears.map((q) => `gear ${q.name}`)])
      plan.jumps.push({ mesh: `${id}.${x1}`, x1: x + w / 2 - 20, y1: y, x2: x + w / 2 + 20, y2: y });
    return x + w + 16;
  }
  const cs = counter ? `${id}.counter` : shaft;
  const list = gears.filter((q) => !q.direct);
  const step = Math.max(23, Math.min(30, 150 / Math.max(1, list.length)));
  const lead = counter ? 40 : 14;
  const w = lead + list.length * step + 14;
  const gap = 46;
  const top = counter ? y : y;
  plan.boxes.push({ part: id, x, y: y - 36, w, h: gap + 74, round: 6 });
  plan.spots.push({ part: id, x: x + w / 2, y: y - 36, side: "above" });
  if (counter) {
    const a = gearR(g.input, g.counter, gap);
    pairAt(plan, `${id}.constant`, shaft, cs, x + 18, y, gap, g.input, g.counter, a, gap - a);
    plan.rods.push(
      { shaft, x1: x, y1: y, x2: x + 30, y2: y },
      { shaft: cs, x1: x + 8, y1: y + gap, x2: x + w - 6, y2: y + gap },
    );
    plan.jumps.push({ mesh: `${id}.direct`, x1: x + 30, y1: y, x2: x + 40, y2: y });
    plan.rods.push({ shaft: out, x1: x + 38, y1: y, x2: x + w + 16, y2: y });
  }
  list.forEach((q, i) => {
    const gx = x + lead + step * (i + 0.5);
    const loose = q.selector === "sliding" ? out : `${id}.gear ${q.name}`;
    const b = gearR(q.driven, q.drive, q.idler ? gap - 10 : gap);
    const rest = (q.idler ? gap - 10 : gap) - b;
    plan.discs.push(
      {
        shaft: loose,
        along: "x",
        x: gx,
        y: top,
        r: b,
        half: 7,
        teeth: q.driven || 20,
        look: "gear",
        mesh: `${id}.gear ${q.name}`,
      },
      {
        shaft: cs,
        along: "x",
        x: gx,
        y: top + gap,
        r: rest,
        half: 7,
        teeth: q.drive || 20,
        look: "gear",
        mesh: `${id}.gear ${q.name}`,
      },
    );
    plan.jumps.push(
      { mesh: `${id}.gear ${q.name}`, x1: gx, y1: top + gap, x2: gx, y2: top },
      { mesh: `${id}.idler drive ${q.name}`, x1: gx, y1: top + gap, x2: gx, y2: top },
      { mesh: `${id}.select ${q.name}`, x1: gx, y1: top, x2: gx + 10, y2: top },
    );
    if (q.selector !== "sliding")
      plan.discs.push({
        shaft: out,
        along: "x",
        x: gx + 12,
        y: top,
        r: 9,
        half: 2.5,
        teeth: 0,
        look: "clutch",
        slide: [{ mesh: `${id}.select ${q.name}`, by: -4 }],
      });
  });
  return x + w + 16;
}
