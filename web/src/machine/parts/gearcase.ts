import { flange } from "../plan";
import { fedBy } from "../tree";
import { choice, teeth, yes } from "./fields";
import type { Kind } from "./kind";

const part: Kind = {
  kind: "gearcase",
  words: "Gearcase",
  mounts: true,
  actuated: true,
  rated: true,
  measured: () => true,
  summary: (p) => `${p.gearcase?.gear ?? "?"} : ${p.gearcase?.pinion ?? "?"}`,
  fields: [
    teeth("pinion", "Pinion"),
    teeth("gear", "Forward gear"),
    yes("shift", "Shifts here by a sliding clutch"),
    yes("twin", "Two propellers, opposite"),
    choice(
      "shift_by",
      "Shifted by",
      [
        ["", "not known"],
        ["turning", "a shaft that turns"],
        ["push_pull", "a rod, pushed and pulled"],
        ["sprung", "a rod against a spring"],
        ["lobe", "a lobe"],
      ],
      (p) => Boolean(p.gearcase?.shift),
    ),
    choice("forward", "Forward gear", [
      ["ahead", "ahead of the pinion"],
      ["behind", "behind the pinion"],
    ]),
  ],
  ports: (p) => (p.gearcase?.twin ? ["outer", "inner"] : [""]),
  ratios: () => ["ratio"],
  draw(pen, p, at) {
    const { d, plan } = pen;
    const { x, y, shaft } = at;
    const g = p.gearcase;
    const id = p.id;
    const by = y + 44;
    plan.boxes.push({ part: id, x: x - 62, y: y, w: 190, h: 84, round: 34 });
    plan.spots.push({ part: id, x: x - 62, y: y + 20, side: "left" });
    plan.rods.push({ shaft, x1: x, y1: y, x2: x, y2: by - 18 });
    plan.discs.push({
      shaft,
      along: "y",
      x,
      y: by - 18,
      r: 13,
      half: 7,
      teeth: g?.pinion || 13,
      look: "gear",
      cone: 1,
    });
    const end = x + 128;
    const gear = (sh: string, gx: number, mesh: string) => {
      plan.discs.push({
        shaft: sh,
        along: "x",
        x: gx,
        y: by,
        r: 24,
        half: 6,
        teeth: g?.gear || 26,
        look: "gear",
        mesh,
        cone: gx < x ? 1 : -1,
      });
      plan.jumps.push({ mesh, x1: x, y1: by - 18, x2: gx, y2: by });
    };
    const ahead = (g?.forward ?? "ahead") === "ahead";
    const fx = ahead ? x - 24 : x + 24;
    const bx = ahead ? x + 24 : x - 24;
    if (g?.twin) {
      gear(`${id}.outer`, fx, `${id}.outer set`);
      gear(`${id}.inner`, bx, `${id}.inner set`);
      plan.rods.push(
        { shaft: `${id}.outer`, x1: Math.min(fx, bx), y1: by, x2: end, y2: by },
        { shaft: `${id}.inner`, x1: bx, y1: by, x2: end + 56, y2: by },
      );
      for (const [port, nx] of [
        ["outer", end],
        ["inner", end + 56],
      ] as const) {
        const q = fedBy(d, `${id}.${port}`);
        if (q) pen.on(q, { x: nx, y: by, shaft: `${id}.${port}`, along: "x" });
        else flange(plan, { shaft: `${id}.${port}`, along: "x", x: nx, y: by }, 14);
      }
      return;
    }
    const out = `${id}.out`;
    if (g?.shift) {
      gear(`${id}.forward gear`, fx, `${id}.forward set`);
      gear(`${id}.reverse gear`, bx, `${id}.reverse set`);
      plan.jumps.push(
        { mesh: `${id}.forward dogs`, x1: fx, y1: by, x2: x + 40, y2: by },
        { mesh: `${id}.reverse dogs`, x1: bx, y1: by, x2: x + 40, y2: by },
      );
      plan.discs.push({
        shaft: out,
        along: "x",
        x,
        y: by,
        r: 9,
        half: 9,
        teeth: 0,
        look: "clutch",
        slide: [
          { mesh: `${id}.forward dogs`, by: fx < x ? -8 : 8 },
          { mesh: `${id}.reverse dogs`, by: bx < x ? -8 : 8 },
        ],
      });
    } else gear(out, fx, `${id}.set`);
    plan.rods.push({ shaft: out, x1: fx, y1: by, x2: end, y2: by });
    const q = fedBy(d, id);
    if (q) pen.on(q, { x: end, y: by, shaft: out, along: "x" });
    else flange(plan, { shaft: out, along: "x", x: end - 6, y: by }, 14);
  },
};

export default part;
