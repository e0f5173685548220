import type { Doc, Part } from "../api/client";
import { kinds } from "./parts";
import { type At, flange, middle, type Pen, type Plan, reach } from "./plan";
import { fedBy, portOf } from "./tree";

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
    flange(plan, { shaft: inShaft, along: "x", x: x + 12, y }, 17);
    x += 60;
  }
  if (root.kind === "gearcase" && inShaft) {
    x = 170;
    y = 60;
    plan.rods.push({ shaft: inShaft, x1: x, y1: y - 30, x2: x, y2: y });
    flange(plan, { shaft: inShaft, along: "y", x, y: y - 24 }, 17);
  }
  penFor(d, plan).on(root, { x, y, shaft: inShaft, along: root.kind === "gearcase" ? "y" : "x" });
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

/** What every kind of part is drawn with, on one plan. */
function penFor(d: Doc, plan: Plan): Pen {
  const on = (p: Part, at: At) => kinds[p.kind].draw(pen, p, at);
  const pen: Pen = {
    d,
    plan,
    on,
    next(p, port, at) {
      const q = fedBy(d, portOf(p, port));
      if (q) return on(q, at);
      // An open end: a flange.
      const { x, y, shaft, along } = at;
      const [ex, ey] = along === "x" ? [x + 34, y] : [x, y + 34];
      plan.rods.push({ shaft, x1: x, y1: y, x2: ex, y2: ey });
      flange(plan, along === "x" ? { ...at, x: ex - 6 } : { ...at, y: ey - 6 });
    },
  };
  return pen;
}
