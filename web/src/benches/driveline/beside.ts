import type { Plan } from "../../machine/plan";

type Rect = { l: number; t: number; r: number; b: number };

/** About how large the card is, in the drawing's own lengths. */
const w = 150;
const h = 132;

/** Where on the drawing a card for a shaft stands: near it, and over as little of the machine as can be. */
export function beside(plan: Plan, shaft: string) {
  const { x, y } = middleOf(plan, shaft);
  const taken = solid(plan);
  let best = { l: 0, t: 0, cost: Number.POSITIVE_INFINITY };
  for (let l = 4; l <= Math.max(4, plan.w - w - 4); l += 12) {
    for (let t = 4; t <= Math.max(4, plan.h - h - 4); t += 12) {
      const card = { l, t, r: l + w, b: t + h };
      const far = Math.hypot(Math.max(l - x, 0, x - card.r), Math.max(t - y, 0, y - card.b));
      const cost = taken.reduce((sum, q) => sum + shared(card, q), 0) * 0.25 + far;
      if (cost < best.cost) best = { l, t, cost };
    }
  }
  return { x: `${(best.l / plan.w) * 100}%`, y: `${(best.t / plan.h) * 100}%` };
}

/** The middle of the longest piece of a shaft. */
function middleOf(plan: Plan, shaft: string) {
  let at: { x: number; y: number } | undefined;
  let longest = -1;
  for (const r of plan.rods) {
    const l = Math.hypot(r.x2 - r.x1, r.y2 - r.y1);
    if (r.shaft !== shaft || l <= longest) continue;
    longest = l;
    at = { x: (r.x1 + r.x2) / 2, y: (r.y1 + r.y2) / 2 };
  }
  return at ?? plan.discs.find((c) => c.shaft === shaft) ?? { x: plan.w / 2, y: plan.h / 2 };
}

/** What should stay in sight: gears and wheels, shafts, names with their levers. */
function solid(plan: Plan): Rect[] {
  return [
    ...plan.discs.map(({ x, y, r, half, along }) =>
      along === "x"
        ? { l: x - half, t: y - r, r: x + half, b: y + r }
        : { l: x - r, t: y - half, r: x + r, b: y + half },
    ),
    ...plan.rods.map(({ x1, y1, x2, y2 }) => ({
      l: Math.min(x1, x2) - 4,
      t: Math.min(y1, y2) - 4,
      r: Math.max(x1, x2) + 4,
      b: Math.max(y1, y2) + 4,
    })),
    ...plan.spots.map(({ x, y, side }) => ({
      l: side === "left" ? x - 110 : side === "right" ? x : x - 60,
      t: side === "above" ? y - 44 : side === "below" ? y : y - 22,
      r: side === "left" ? x : side === "right" ? x + 110 : x + 60,
      b: side === "above" ? y : side === "below" ? y + 44 : y + 22,
    })),
  ];
}

const shared = (a: Rect, b: Rect) =>
  Math.max(0, Math.min(a.r, b.r) - Math.max(a.l, b.l)) * Math.max(0, Math.min(a.b, b.b) - Math.max(a.t, b.t));
