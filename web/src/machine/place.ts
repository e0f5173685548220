import type { Doc, Part } from "../api/client";
import { fedBy, portOf } from "./document";

/** A length of shaft, drawn from end to end. */
export type Rod = { shaft: string; x1: number; y1: number; x2: number; y2: number };

/** A gear, wheel or flange on a shaft, seen from its side; along is the direction of its shaft. */
export type Disc = {
  shaft: string;
  along: "x" | "y";
  x: number;
  y: number;
  r: number;
  half: number;
  teeth: number;
  look: "gear" | "ring" | "wheel" | "flange" | "clutch" | "chain" | "prop";
  mesh?: string;
  /** A bevel gear: its small end lies toward more (1) or less (-1) along its shaft. */
  cone?: 1 | -1;
  /** A sleeve or dog: how far along its shaft it goes to engage each of these. */
  slide?: { mesh: string; by: number }[];
};

/** A wheel that nothing drives, drawn so that one sees where the front is. */
export type Idle = { x: number; y: number };

/** A place where power passes between shafts, for the power line. */
export type Jump = { mesh: string; x1: number; y1: number; x2: number; y2: number };

/** A housing behind the moving parts. */
export type Box = { part: string; x: number; y: number; w: number; h: number; round?: number };

/** Where a part's controls and name go. */
export type Spot = { part: string; x: number; y: number; side: "above" | "below" | "left" | "right" };

/** The middle line of a vehicle seen from above, and how far out its wheels stand. */
const middle = 250;
const reach = 168;

export type Plan = {
  rods: Rod[];
  discs: Disc[];
  jumps: Jump[];
  boxes: Box[];
  spots: Spot[];
  belts: Jump[];
  idle: Idle[];
  w: number;
  h: number;
};

const gearR = (teeth: number | undefined, other: number | undefined, sum = 44) =>
  teeth && other ? Math.max(9, Math.min(sum - 9, (sum * teeth) / (teeth + other))) : sum / 2;

/**
 * Where everything lies: vehicles from above with the front at the left (so
 * the vehicle's left is at the bottom), boats from the side with the bow at
 * the left. Only drawing; what turns and how comes from the server.
 */
export function placeParts(d: Doc): Plan {
  const plan: Plan = { rods: [], discs: [], jumps: [], boxes: [], spots: [], belts: [], idle: [], w: 0, h: 0 };
  const root = d.parts.find((p) => !p.from);
  if (!root) return { ...plan, w: 900, h: 420 };
  const frontAxle = d.parts.some((p) => p.kind === "transfer_case" && fedBy(d, `${p.id}.front`));
  const mid = d.lies === "vehicle" ? middle : d.lies === "boat" ? 120 : 150;
  const inShaft = root.kind === "engine" ? "" : `${root.id}.in`;
  const wheels = d.parts.filter((p) => p.kind === "wheel");
  const undriven = d.lies === "vehicle" && wheels.length > 0 && wheels.every((w) => w.wheel?.at !== "front");
  let x = frontAxle || undriven ? 172 : 40;
  if (undriven) plan.idle.push({ x: 104, y: middle - reach }, { x: 104, y: middle + reach });
  let y = mid;
  if (inShaft && root.kind !== "gearcase") {
    plan.rods.push({ shaft: inShaft, x1: x, y1: y, x2: x + 60, y2: y });
    plan.discs.push({ shaft: inShaft, along: "x", x: x + 12, y, r: 17, half: 5, teeth: 0, look: "flange" });
    x += 60;
  }
  if (root.kind === "gearcase" && inShaft) {
    x = 170;
    y = 60;
    plan.rods.push({ shaft: inShaft, x1: x, y1: y - 30, x2: x, y2: y });
    plan.discs.push({ shaft: inShaft, along: "y", x, y: y - 24, r: 17, half: 5, teeth: 0, look: "flange" });
  }
  walk(d, plan, root, x, y, inShaft, root.kind === "gearcase" ? "y" : "x");
  let right = 0;
  let bottom = 0;
  for (const b of plan.boxes) {
    right = Math.max(right, b.x + b.w);
    bottom = Math.max(bottom, b.y + b.h);
  }
  for (const c of plan.discs) {
    right = Math.max(right, c.x + (c.along === "x" ? c.half : c.r));
    bottom = Math.max(bottom, c.y + (c.along === "x" ? c.r : c.half));
  }
  for (const r of plan.rods) {
    right = Math.max(right, r.x1, r.x2);
    bottom = Math.max(bottom, r.y1, r.y2);
  }
  // Room for the controls that stand at the right of their spots.
  for (const sp of plan.spots) if (sp.side === "right") right = Math.max(right, sp.x + 104);
  plan.w = Math.max(right + 24, 560);
  plan.h = d.lies === "vehicle" ? middle + reach + 62 : Math.max(bottom + 46, 300);
  return plan;
}

type Along = "x" | "y";

/** Draws a part and all behind it. (x, y) is where its input shaft, named by shaft, arrives. */
function walk(d: Doc, plan: Plan, p: Part, x: number, y: number, shaft: string, along: Along) {
  const next = (port: string, nx: number, ny: number, sh: string, a: Along = along) => {
    const q = fedBy(d, portOf(p, port));
    if (q) {
      walk(d, plan, q, nx, ny, sh, a);
      return;
    }
    // An open end: a flange.
    const [ex, ey] = a === "x" ? [nx + 34, ny] : [nx, ny + 34];
    plan.rods.push({ shaft: sh, x1: nx, y1: ny, x2: ex, y2: ey });
    plan.discs.push({
      shaft: sh,
      along: a,
      x: a === "x" ? ex - 6 : ex,
      y: a === "x" ? ey : ey - 6,
      r: 16,
      half: 5,
      teeth: 0,
      look: "flange",
    });
  };
  const id = p.id;
  switch (p.kind) {
    case "engine": {
      if (p.engine?.axis === "upright") {
        plan.boxes.push({ part: id, x: x + 70, y: y - 70, w: 120, h: 74, round: 12 });
        plan.spots.push({ part: id, x: x + 130, y: y - 70, side: "above" });
        plan.rods.push({ shaft: `${id}.crank`, x1: x + 130, y1: y - 60, x2: x + 130, y2: y + 24 });
        plan.discs.push({
          shaft: `${id}.crank`,
          along: "y",
          x: x + 130,
          y: y - 40,
          r: 36,
          half: 10,
          teeth: 0,
          look: "flange",
        });
        next("", x + 130, y + 24, `${id}.crank`, "y");
        return;
      }
      if (p.engine?.axis === "crosswise") {
        const ey = y + 60;
        plan.boxes.push({ part: id, x: x + 40, y: ey, w: 86, h: 100, round: 6 });
        plan.spots.push({ part: id, x: x + 83, y: ey + 100, side: "below" });
        plan.rods.push({ shaft: `${id}.crank`, x1: x + 83, y1: ey + 92, x2: x + 83, y2: ey });
        plan.discs.push({
          shaft: `${id}.crank`,
          along: "y",
          x: x + 83,
          y: ey + 16,
          r: 32,
          half: 7,
          teeth: 0,
          look: "flange",
        });
        crossBox(d, plan, p, x + 83, ey);
        return;
      }
      plan.boxes.push({ part: id, x, y: y - 42, w: 92, h: 84, round: 6 });
      plan.spots.push({ part: id, x: x + 46, y: y - 42, side: "above" });
      plan.rods.push({ shaft: `${id}.crank`, x1: x + 8, y1: y, x2: x + 112, y2: y });
      plan.discs.push({ shaft: `${id}.crank`, along: "x", x: x + 82, y, r: 34, half: 7, teeth: 0, look: "flange" });
      next("", x + 112, y, `${id}.crank`);
      return;
    }
    case "clutch": {
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
      next("", x + 50, y, `${id}.out`);
      return;
    }
    case "gearbox":
      next("", gearbox(plan, p, x, y, shaft), y, `${id}.out`);
      return;
    case "planetary": {
      plan.boxes.push({ part: id, x, y: y - 44, w: 84, h: 88, round: 6 });
      plan.spots.push({ part: id, x: x + 42, y: y - 44, side: "above" });
      planets(plan, id, "set", x + 34, y, shaft, `${id}.out`, 38);
      plan.rods.push(
        { shaft, x1: x, y1: y, x2: x + 34, y2: y },
        { shaft: `${id}.out`, x1: x + 46, y1: y, x2: x + 104, y2: y },
      );
      next("", x + 104, y, `${id}.out`);
      return;
    }
    case "transfer_case":
      transferCase(d, plan, p, x, y, shaft);
      return;
    case "shaft": {
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
      next("", ex, ey, `${id}.shaft`);
      return;
    }
    case "gear_pair": {
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
      next("", x + 60, y + gap, `${id}.out`);
      return;
    }
    case "differential": {
      plan.boxes.push({ part: id, x, y: y - 34, w: 66, h: 68, round: 6 });
      plan.spots.push({ part: id, x: x + 33, y: y - 34, side: "above" });
      plan.rods.push({ shaft, x1: x, y1: y, x2: x + 24, y2: y });
      plan.discs.push({ shaft, along: "x", x: x + 24, y, r: 24, half: 6, teeth: 16, look: "ring" });
      spider(plan, `${id}.differential`, x + 24, y, [`${id}.through`, `${id}.here`], "x");
      plan.rods.push({ shaft: `${id}.through`, x1: x + 34, y1: y, x2: x + 84, y2: y });
      plan.jumps.push({ mesh: `${id}.differential`, x1: x + 24, y1: y, x2: x + 34, y2: y });
      // The near output leaves below, ahead of its axle; the through shaft goes on over it.
      plan.rods.push({ shaft: `${id}.here`, x1: x + 34, y1: y + 14, x2: x + 84, y2: y + 14 });
      plan.jumps.push({ mesh: `${id}.differential`, x1: x + 24, y1: y, x2: x + 34, y2: y + 14 });
      const here = fedBy(d, `${id}.here`);
      if (here) walk(d, plan, here, x + 84, y + 14, `${id}.here`, "x");
      const through = fedBy(d, `${id}.through`);
      // Room for the first axle and its wheels.
      if (through) {
        plan.rods.push({ shaft: `${id}.through`, x1: x + 84, y1: y, x2: x + 270, y2: y });
        walk(d, plan, through, x + 270, y, `${id}.through`, "x");
      }
      return;
    }
    case "axle":
      axle(d, plan, p, x, y, shaft, false);
      return;
    case "upper": {
      const z = p.upper;
      plan.boxes.push({ part: id, x: x + 6, y: y - 40, w: 96, h: 100, round: 8 });
      plan.spots.push({ part: id, x: x + 54, y: y - 40, side: "above" });
      plan.rods.push({ shaft, x1: x, y1: y, x2: x + 32, y2: y });
      plan.discs.push({
        shaft,
        along: "x",
        x: x + 32,
        y,
        r: 14,
        half: 7,
        teeth: z?.pinion || 14,
        look: "gear",
        cone: 1,
        mesh: z?.shift ? `${id}.forward set` : `${id}.set`,
      });
      const cx = x + 60;
      if (z?.shift) {
        plan.discs.push(
          {
            shaft: `${id}.forward gear`,
            along: "y",
            x: cx,
            y: y + 20,
            r: 24,
            half: 6,
            teeth: z.gear || 20,
            look: "gear",
            cone: -1,
            mesh: `${id}.forward set`,
          },
          {
            shaft: `${id}.reverse gear`,
            along: "y",
            x: cx,
            y: y - 20,
            r: 24,
            half: 6,
            teeth: z.gear || 20,
            look: "gear",
            cone: 1,
            mesh: `${id}.reverse set`,
          },
        );
        plan.jumps.push(
          { mesh: `${id}.forward set`, x1: x + 32, y1: y, x2: cx, y2: y + 20 },
          { mesh: `${id}.reverse set`, x1: x + 32, y1: y, x2: cx, y2: y - 20 },
          { mesh: `${id}.forward dogs`, x1: cx, y1: y + 20, x2: cx, y2: y + 36 },
          { mesh: `${id}.reverse dogs`, x1: cx, y1: y - 20, x2: cx, y2: y + 36 },
        );
      } else {
        plan.discs.push({
          shaft: `${id}.out`,
          along: "y",
          x: cx,
          y: y + 20,
          r: 24,
          half: 6,
          teeth: z?.gear || 20,
          look: "gear",
          mesh: `${id}.set`,
        });
        plan.jumps.push({ mesh: `${id}.set`, x1: x + 32, y1: y, x2: cx, y2: y + 20 });
      }
      plan.rods.push({ shaft: `${id}.out`, x1: cx, y1: y + 28, x2: cx, y2: y + 70 });
      next("", cx, y + 70, `${id}.out`, "y");
      return;
    }
    case "reverse_gear": {
      plan.boxes.push({ part: id, x, y: y - 36, w: 92, h: 96, round: 8 });
      plan.spots.push({ part: id, x: x + 46, y: y - 36, side: "above" });
      plan.rods.push(
        { shaft, x1: x, y1: y, x2: x + 60, y2: y },
        { shaft: `${id}.out`, x1: x + 24, y1: y + 34, x2: x + 110, y2: y + 34 },
      );
      for (const [mesh, gx, on] of [
        [`${id}.ahead`, x + 30, true],
        [`${id}.astern`, x + 54, false],
      ] as const) {
        plan.discs.push(
          { shaft, along: "x", x: gx, y, r: 13, half: 6, teeth: 18, look: "gear", mesh },
          { shaft: `${id}.out`, along: "x", x: gx, y: y + 34, r: on ? 21 : 19, half: 6, teeth: 30, look: "gear", mesh },
        );
        plan.jumps.push({ mesh, x1: gx, y1: y, x2: gx, y2: y + 34 });
      }
      next("", x + 110, y + 34, `${id}.out`);
      return;
    }
    case "gearcase":
      gearcase(d, plan, p, x, y, shaft);
      return;
    case "propeller":
      propeller(plan, p, x, y, shaft);
      return;
    case "wheel":
      plan.rods.push({ shaft, x1: x, y1: y, x2: x + 20, y2: y });
      plan.discs.push({ shaft: `${id}.wheel`, along, x: x + 40, y, r: 40, half: 20, teeth: 20, look: "wheel" });
      plan.jumps.push({ mesh: `${id}.half shaft`, x1: x, y1: y, x2: x + 40, y2: y });
      plan.spots.push({ part: id, x: x + 40, y: y + 40, side: "below" });
      return;
    case "hub":
      plan.rods.push({ shaft, x1: x, y1: y, x2: x + 30, y2: y });
      next("", x + 30, y, `${id}.out`);
      return;
  }
}

function pairAt(
  plan: Plan,
  mesh: string,
  a: string,
  b: string,
  x: number,
  y: number,
  gap: number,
  za: number | undefined,
  zb: number | undefined,
  ra: number,
  rb: number,
  chain = false,
) {
  const look = chain ? "chain" : "gear";
  plan.discs.push(
    { shaft: a, along: "x", x, y, r: ra, half: 6, teeth: za || 20, look, mesh },
    { shaft: b, along: "x", x, y: y + gap, r: rb, half: 6, teeth: zb || 20, look, mesh },
  );
  plan.jumps.push({ mesh, x1: x, y1: y, x2: x, y2: y + gap });
  if (chain) plan.belts.push({ mesh, x1: x, y1: y - ra, x2: x, y2: y + gap + rb });
}

/** A planetary set seen from its side: the ring as an outline, sun and carrier on the line. */
function planets(plan: Plan, id: string, mesh: string, x: number, y: number, sun: string, out: string, r: number) {
  plan.discs.push(
    { shaft: sun, along: "x", x: x - 4, y, r: r * 0.42, half: 5, teeth: 14, look: "gear", mesh: `${id}.${mesh}` },
    { shaft: out, along: "x", x: x + 8, y, r: r * 0.8, half: 4, teeth: 0, look: "flange" },
  );
  plan.boxes.push({ part: id, x: x - 9, y: y - r, w: 10, h: 8 }, { part: id, x: x - 9, y: y + r - 8, w: 10, h: 8 });
  plan.jumps.push({ mesh: `${id}.${mesh}`, x1: x - 4, y1: y, x2: x + 8, y2: y });
}

/** Spider gears between two outputs. */
function spider(plan: Plan, mesh: string, x: number, y: number, sides: [string, string], along: Along) {
  const [a, b] = sides;
  const at = (k: number) => (along === "x" ? { x: x + k, y } : { x, y: y + k });
  plan.discs.push(
    { shaft: a, along, ...at(7), r: 9, half: 3, teeth: 10, look: "gear", mesh },
    { shaft: b, along, ...at(-7), r: 9, half: 3, teeth: 10, look: "gear", mesh },
  );
}

function gearbox(plan: Plan, p: Part, x: number, y: number, shaft: string): number {
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

function transferCase(d: Doc, plan: Plan, p: Part, x: number, y: number, shaft: string) {
  const t = p.transfer_case;
  const id = p.id;
  const hasFront = t?.front?.type !== "none";
  const gap = 92;
  const w = 132;
  plan.boxes.push({ part: id, x, y: y - 42, w, h: hasFront ? gap + 76 : 84, round: 6 });
  plan.spots.push({ part: id, x: x + w / 2, y: y - 42, side: "above" });
  const main = t?.range?.type === "none" ? shaft : `${id}.main`;
  const rear = `${id}.rear`;
  if (t?.range?.type === "planetary") {
    plan.discs.push(
      {
        shaft,
        along: "x",
        x: x + 16,
        y,
        r: 13,
        half: 6,
        teeth: t.range.sun || 16,
        look: "gear",
        mesh: `${id}.low set`,
      },
      { shaft: `${id}.carrier`, along: "x", x: x + 29, y, r: 25, half: 4, teeth: 0, look: "flange", mesh: `${id}.low` },
    );
    plan.boxes.push({ part: id, x: x + 9, y: y - 33, w: 13, h: 7 }, { part: id, x: x + 9, y: y + 26, w: 13, h: 7 });
    plan.jumps.push(
      { mesh: `${id}.low set`, x1: x + 16, y1: y, x2: x + 29, y2: y },
      { mesh: `${id}.low`, x1: x + 29, y1: y, x2: x + 42, y2: y },
    );
  } else if (t?.range?.type === "gears") {
    const a = gearR(t.range.input, t.range.counter);
    const b = gearR(t.range.low_gear, t.range.low_drive);
    plan.discs.push(
      {
        shaft,
        along: "x",
        x: x + 14,
        y,
        r: a,
        half: 6,
        teeth: t.range.input || 20,
        look: "gear",
        mesh: `${id}.cluster drive`,
      },
      {
        shaft: `${id}.cluster`,
        along: "x",
        x: x + 14,
        y: y + 44,
        r: 44 - a,
        half: 6,
        teeth: t.range.counter || 20,
        look: "gear",
        mesh: `${id}.cluster drive`,
      },
      {
        shaft: `${id}.low gear`,
        along: "x",
        x: x + 34,
        y,
        r: b,
        half: 6,
        teeth: t.range.low_gear || 20,
        look: "gear",
        mesh: `${id}.low gears`,
      },
      {
        shaft: `${id}.cluster`,
        along: "x",
        x: x + 34,
        y: y + 44,
        r: 44 - b,
        half: 6,
        teeth: t.range.low_drive || 20,
        look: "gear",
        mesh: `${id}.low gears`,
      },
    );
    plan.rods.push({ shaft: `${id}.cluster`, x1: x + 6, y1: y + 44, x2: x + 44, y2: y + 44 });
    plan.jumps.push(
      { mesh: `${id}.cluster drive`, x1: x + 14, y1: y, x2: x + 14, y2: y + 44 },
      { mesh: `${id}.low gears`, x1: x + 34, y1: y + 44, x2: x + 34, y2: y },
      { mesh: `${id}.low`, x1: x + 34, y1: y, x2: x + 46, y2: y },
    );
  }
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
  if (hasFront) {
    const front = `${id}.front`;
    const chain = t?.front?.type === "chain";
    const idler = (t?.front?.idlers ?? 0) > 0;
    const r = chain ? 19 : idler ? 24 : gap / 2;
    pairAt(plan, `${id}.front`, drive, front, gx, y, gap, t?.front?.drive, t?.front?.driven, r, r, chain);
    // An idler's own teeth aren't known, so it is only hinted at.
    if (idler && !chain) plan.belts.push({ mesh: `${id}.front`, x1: gx, y1: y + r, x2: gx, y2: y + gap - r });
    if (c === "part_time" || t?.center?.lockable)
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
    // The front output runs forward, beside engine and gearbox.
    const end = fedBy(d, `${id}.front`);
    const ax = 98;
    if (end) {
      plan.rods.push({ shaft: front, x1: gx + 8, y1: y + gap, x2: x - 14, y2: y + gap });
      frontLine(d, plan, end, x - 14, y + gap, ax, front);
    } else {
      plan.rods.push({ shaft: front, x1: gx + 8, y1: y + gap, x2: x - 30, y2: y + gap });
      plan.discs.push({ shaft: front, along: "x", x: x - 24, y: y + gap, r: 16, half: 5, teeth: 0, look: "flange" });
    }
  }
  const q = fedBy(d, `${id}.rear`);
  if (q) walk(d, plan, q, x + w + 16, y, rear, "x");
  else plan.discs.push({ shaft: rear, along: "x", x: x + w + 10, y, r: 16, half: 5, teeth: 0, look: "flange" });
}

/** What leads forward to the front axle. */
function frontLine(d: Doc, plan: Plan, p: Part, x: number, y: number, ax: number, shaft: string) {
  if (p.kind === "axle") {
    plan.rods.push({ shaft, x1: x, y1: y, x2: ax + 62, y2: y });
    axle(d, plan, p, ax + 62, y, shaft, true);
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
  if (after) frontLine(d, plan, after, end, y, ax, own);
  else plan.discs.push({ shaft: own, along: "x", x: end, y, r: 16, half: 5, teeth: 0, look: "flange" });
}

/** An axle; its input arrives from the left, or from the right for a front axle. */
function axle(d: Doc, plan: Plan, p: Part, x: number, y: number, shaft: string, fromRight: boolean) {
  const a = p.axle;
  const id = p.id;
  const dir = fromRight ? -1 : 1;
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
  const side = left ? 1 : -1; // the vehicle's left is at the bottom
  plan.boxes.push({ part: id, x: cx - 38, y: py - 44, w: 76, h: 88, round: 30 });
  plan.spots.push({ part: id, x: cx - (fromRight ? 38 : -38), y: py, side: fromRight ? "left" : "right" });
  plan.rods.push({ shaft: pinion, x1: px, y1: py, x2: cx - dir * 30, y2: py });
  plan.discs.push({
    shaft: pinion,
    along: "x",
    x: cx - dir * 30,
    y: py,
    r: 11,
    half: 8,
    teeth: a?.pinion || 10,
    look: "gear",
    mesh: `${id}.final`,
    cone: a?.gears === "spur" ? undefined : dir,
  });
  const ry = py + side * 16;
  plan.discs.push({
    shaft: `${id}.ring`,
    along: "y",
    x: cx,
    y: ry,
    r: 33,
    half: 6,
    teeth: Math.min(a?.ring || 40, 44),
    look: "ring",
    mesh: `${id}.final`,
    cone: a?.gears === "spur" ? undefined : side === 1 ? -1 : 1,
  });
  plan.jumps.push(
    { mesh: `${id}.final`, x1: cx - dir * 30, y1: py, x2: cx, y2: ry },
    { mesh: `${id}.differential`, x1: cx, y1: ry, x2: cx, y2: py },
  );
  if (a?.second) {
    plan.discs.push({
      shaft: `${id}.carrier`,
      along: "y",
      x: cx,
      y: ry - side * 12,
      r: 22,
      half: 4,
      teeth: 0,
      look: "flange",
    });
    plan.jumps.push({ mesh: `${id}.second`, x1: cx, y1: ry, x2: cx, y2: py });
  }
  spider(plan, `${id}.differential`, cx, py, [`${id}.left`, `${id}.right`], "y");
  if (a?.differential?.type === "locking")
    plan.discs.push({
      shaft: `${id}.left`,
      along: "y",
      x: cx,
      y: py + 30,
      r: 9,
      half: 3,
      teeth: 0,
      look: "clutch",
      slide: [{ mesh: `${id}.lock`, by: -8 }],
    });
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
      plan.boxes.length,
    );
    plan.jumps.push({ mesh: `${id}.differential`, x1: cx, y1: py, x2: cx, y2: py + s * 12 });
    if (s === 1) plan.jumps.push({ mesh: `${id}.lock`, x1: cx, y1: py, x2: cx, y2: py + 12 });
  }
}

/** One side of an axle out to its wheel. */
function halfAxle(
  d: Doc,
  plan: Plan,
  p: Part | undefined,
  x: number,
  y: number,
  s: number,
  shaft: string,
  hub: string,
  lock: string,
  _n: number,
) {
  const end = middle + s * reach;
  let at = y + s * 8;
  let sh = shaft;
  let q = p;
  if (hub !== shaft) {
    plan.rods.push({ shaft, x1: x, y1: at, x2: x, y2: end - s * 40 });
    plan.jumps.push({ mesh: lock, x1: x, y1: end - s * 44, x2: x, y2: end - s * 36 });
    sh = hub;
    at = end - s * 40;
  }
  while (q?.kind === "hub") {
    const hy = end - s * 44;
    const out = `${q.id}.out`;
    plan.rods.push({ shaft: sh, x1: x, y1: at, x2: x, y2: hy });
    if (q.hub?.type === "portal") {
      plan.discs.push(
        {
          shaft: sh,
          along: "y",
          x: x - 13,
          y: hy,
          r: 12,
          half: 6,
          teeth: q.hub.drive || 14,
          look: "gear",
          mesh: `${q.id}.mesh`,
        },
        {
          shaft: out,
          along: "y",
          x: x + 12,
          y: hy,
          r: 20,
          half: 6,
          teeth: q.hub.driven || 24,
          look: "gear",
          mesh: `${q.id}.mesh`,
        },
      );
      plan.jumps.push({ mesh: `${q.id}.mesh`, x1: x, y1: hy, x2: x, y2: hy + s * 10 });
    } else {
      plan.discs.push(
        { shaft: sh, along: "y", x, y: hy, r: 11, half: 5, teeth: q.hub?.sun || 14, look: "gear", mesh: `${q.id}.set` },
        { shaft: out, along: "y", x, y: hy + s * 11, r: 24, half: 4, teeth: 0, look: "flange" },
      );
      plan.jumps.push({ mesh: `${q.id}.set`, x1: x, y1: hy, x2: x, y2: hy + s * 12 });
    }
    plan.boxes.push({ part: q.id, x: x - 34, y: hy - 13 + (s < 0 ? -12 : 0), w: 68, h: 36, round: 5 });
    plan.spots.push({ part: q.id, x: x + 34, y: hy, side: "right" });
    sh = out;
    at = hy + s * 12;
    q = fedBy(d, q.id);
  }
  if (q?.kind === "wheel") {
    plan.rods.push({ shaft: sh, x1: x, y1: at, x2: x, y2: end });
    plan.discs.push({ shaft: `${q.id}.wheel`, along: "y", x, y: end, r: 46, half: 19, teeth: 22, look: "wheel" });
    plan.jumps.push({ mesh: `${q.id}.half shaft`, x1: x, y1: end - s * 24, x2: x, y2: end });
    plan.spots.push({ part: q.id, x, y: end + s * 21, side: s > 0 ? "below" : "above" });
    return;
  }
  const stop = y + s * 96;
  plan.rods.push({ shaft: sh, x1: x, y1: at, x2: x, y2: stop });
  plan.discs.push({ shaft: sh, along: "y", x, y: stop, r: 17, half: 5, teeth: 0, look: "flange" });
}

/** A crosswise engine's clutch, gearbox and final drive, all on crosswise shafts. */
function crossBox(d: Doc, plan: Plan, e: Part, x: number, y: number) {
  let shaft = `${e.id}.crank`;
  let q = fedBy(d, e.id);
  let at = y;
  if (q?.kind === "clutch") {
    plan.discs.push({ shaft, along: "y", x, y: at - 6, r: 22, half: 4, teeth: 0, look: "clutch" });
    plan.discs.push({ shaft: `${q.id}.out`, along: "y", x, y: at - 18, r: 22, half: 4, teeth: 0, look: "clutch" });
    plan.jumps.push(
      { mesh: `${q.id}.clutch`, x1: x, y1: at, x2: x, y2: at - 18 },
      { mesh: `${q.id}.fluid`, x1: x, y1: at, x2: x, y2: at - 18 },
    );
    plan.spots.push({ part: q.id, x: x - 30, y: at - 12, side: "left" });
    shaft = `${q.id}.out`;
    at -= 18;
    q = fedBy(d, q.id);
  }
  if (q?.kind !== "gearbox") return;
  const box = q;
  const gears = box.gearbox?.gears ?? [];
  const step = 22;
  const top = at - 14 - gears.length * step;
  const ox = x + 50;
  plan.boxes.push({ part: box.id, x: x - 30, y: top - 8, w: 112, h: at - top - 2, round: 6 });
  plan.spots.push({ part: box.id, x: x + 20, y: top - 8, side: "above" });
  plan.rods.push(
    { shaft, x1: x, y1: at, x2: x, y2: top },
    { shaft: `${box.id}.out`, x1: ox, y1: at - 8, x2: ox, y2: top },
  );
  gears.forEach((g, i) => {
    const gy = at - 24 - step * i;
    const r = gearR(g.driven, g.drive, 50);
    plan.discs.push(
      {
        shaft,
        along: "y",
        x,
        y: gy,
        r: 50 - r - (g.idler ? 6 : 0),
        half: 6,
        teeth: g.drive || 18,
        look: "gear",
        mesh: `${box.id}.gear ${g.name}`,
      },
      {
        shaft: g.selector === "sliding" ? `${box.id}.out` : `${box.id}.gear ${g.name}`,
        along: "y",
        x: ox,
        y: gy,
        r: r - (g.idler ? 6 : 0),
        half: 6,
        teeth: g.driven || 24,
        look: "gear",
        mesh: `${box.id}.gear ${g.name}`,
      },
    );
    plan.jumps.push(
      { mesh: `${box.id}.gear ${g.name}`, x1: x, y1: gy, x2: ox, y2: gy },
      { mesh: `${box.id}.select ${g.name}`, x1: ox, y1: gy, x2: ox, y2: gy + 8 },
    );
  });
  const ax = fedBy(d, box.id);
  if (ax?.kind !== "axle") return;
  const cx = ox + 66;
  const fy = at + 4;
  plan.rods.push({ shaft: `${box.id}.out`, x1: ox, y1: at - 8, x2: ox, y2: fy + 6 });
  plan.discs.push(
    {
      shaft: `${box.id}.out`,
      along: "y",
      x: ox,
      y: fy,
      r: 14,
      half: 6,
      teeth: ax.axle?.pinion || 16,
      look: "gear",
      mesh: `${ax.id}.final`,
    },
    {
      shaft: `${ax.id}.ring`,
      along: "y",
      x: cx,
      y: fy,
      r: 50,
      half: 6,
      teeth: Math.min(ax.axle?.ring || 60, 44),
      look: "ring",
      mesh: `${ax.id}.final`,
    },
  );
  plan.jumps.push(
    { mesh: `${ax.id}.final`, x1: ox, y1: fy, x2: cx, y2: fy },
    { mesh: `${ax.id}.differential`, x1: cx, y1: fy, x2: cx, y2: fy - 18 },
  );
  plan.boxes.push({ part: ax.id, x: cx - 56, y: fy - 40, w: 112, h: 64, round: 26 });
  plan.spots.push({ part: ax.id, x: cx + 56, y: fy, side: "right" });
  spider(plan, `${ax.id}.differential`, cx, fy - 22, [`${ax.id}.left`, `${ax.id}.right`], "y");
  for (const s of [1, -1]) {
    const port = s === 1 ? "left" : "right";
    halfAxle(d, plan, fedBy(d, `${ax.id}.${port}`), cx, fy - 22, s, `${ax.id}.${port}`, `${ax.id}.${port}`, "", 0);
    plan.jumps.push({ mesh: `${ax.id}.differential`, x1: cx, y1: fy - 22, x2: cx, y2: fy - 22 + s * 10 });
  }
}

function gearcase(d: Doc, plan: Plan, p: Part, x: number, y: number, shaft: string) {
  const g = p.gearcase;
  const id = p.id;
  const by = y + 44;
  plan.boxes.push({ part: id, x: x - 62, y: y, w: 190, h: 84, round: 34 });
  plan.spots.push({ part: id, x: x - 62, y: y + 20, side: "left" });
  plan.rods.push({ shaft, x1: x, y1: y, x2: x, y2: by - 18 });
  plan.discs.push({ shaft, along: "y", x, y: by - 18, r: 13, half: 7, teeth: g?.pinion || 13, look: "gear", cone: 1 });
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
      if (q) walk(d, plan, q, nx, by, `${id}.${port}`, "x");
      else
        plan.discs.push({ shaft: `${id}.${port}`, along: "x", x: nx, y: by, r: 14, half: 5, teeth: 0, look: "flange" });
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
  if (q) walk(d, plan, q, end, by, out, "x");
  else plan.discs.push({ shaft: out, along: "x", x: end - 6, y: by, r: 14, half: 5, teeth: 0, look: "flange" });
}

function propeller(plan: Plan, p: Part, x: number, y: number, shaft: string) {
  plan.rods.push({ shaft, x1: x, y1: y, x2: x + 18, y2: y });
  plan.jumps.push({ mesh: `${p.id}.hub`, x1: x, y1: y, x2: x + 26, y2: y });
  plan.discs.push({ shaft: `${p.id}.prop`, along: "x", x: x + 26, y, r: 52, half: 11, teeth: 0, look: "prop" });
  const second = plan.discs.filter((c) => c.look === "prop").length > 1;
  plan.spots.push({ part: p.id, x: x + 26, y: second ? y - 54 : y + 54, side: second ? "above" : "below" });
}
