/** A rectangle in pixels, from the frame's upper left corner. */
export type Rect = { l: number; t: number; w: number; h: number };

/** A label where it would be drawn, and the way it goes first when something is in its way. */
export type Label = Rect & { goes: "up" | "down" | "either" };

/** How far a label moves from where it would be drawn. */
export type Move = { dx: number; dy: number };

/** What is in the way, and how much room stays around it. */
type Taken = Rect & { room: number; label?: boolean };

const beside = { label: 5, drawn: 1 };

const hits = (a: Rect, z: Taken) =>
  a.l < z.l + z.w + z.room && z.l < a.l + a.w + z.room && a.t < z.t + z.h + z.room && z.t < a.t + a.h + z.room;

const inside = (a: Rect, b: Rect) => a.l >= b.l && a.t >= b.t && a.l + a.w <= b.l + b.w && a.t + a.h <= b.t + b.h;

/**
 * Moves labels so that none touches another or anything drawn, and none leaves the frame
 * sideways; up and down there is always room. Labels that are free where they are stay.
 * The rest follow, the largest first, each to the nearest free place: its edges need only be
 * tried along the edges of what is in its way. With n rectangles that is at most n² places
 * of n checks a label, cut short by the nearest place found so far.
 */
export function moveLabels(labels: Label[], drawn: Rect[], width: number): Move[] {
  const taken: Taken[] = drawn
    .filter((d, i) => !drawn.some((o, k) => k !== i && inside(d, o) && (k < i || !inside(o, d))))
    .map((d) => ({ ...d, room: beside.drawn }));
  const take = (q: Rect) => taken.push({ ...q, room: beside.label, label: true });
  const moves = labels.map(() => ({ dx: 0, dy: 0 }));
  const waiting: number[] = [];
  for (const [i, q] of labels.entries()) {
    const free = q.l >= 0 && q.l + q.w <= width && !taken.some((d) => hits(q, d));
    if (free) take(q);
    else waiting.push(i);
  }
  waiting.sort((a, b) => size(labels[b]) - size(labels[a]));
  for (const i of waiting) {
    const q = labels[i];
    if (!q) continue;
    const move = nearest(q, taken, width);
    moves[i] = move;
    take({ ...q, l: q.l + move.dx, t: q.t + move.dy });
  }
  return moves;
}

const size = (q?: Rect) => (q ? q.w * q.h : 0);

/** A line across a label costs as much as going this much further, in pixels. */
const crossed = 90;

function nearest(q: Label, taken: Taken[], width: number): Move {
  const clamp = (dx: number) => Math.max(-q.l, Math.min(dx, width - q.l - q.w));
  const across = new Set([clamp(0)]);
  const along = new Set([0]);
  for (const d of taken) {
    across.add(clamp(d.l - d.room - q.w - q.l)).add(clamp(d.l + d.w + d.room - q.l));
    along.add(d.t - d.room - q.h - q.t).add(d.t + d.h + d.room - q.t);
  }
  // Up and down is nearer to the eye than aside; against its way costs half as much again.
  const against = (dy: number) => (q.goes === "up" && dy > 0) || (q.goes === "down" && dy < 0);
  const price = (dx: number, dy: number) => 1.3 * Math.abs(dx) + Math.abs(dy) * (against(dy) ? 1.5 : 1);
  const lines = (there: Rect) => taken.filter((d) => d.label && crosses(q, there, d)).length * crossed;
  const xs = [...across].sort((a, b) => price(a, 0) - price(b, 0));
  const ys = [...along].sort((a, b) => price(0, a) - price(0, b));
  let best: Move = { dx: clamp(0), dy: 0 };
  let least = Number.POSITIVE_INFINITY;
  for (const dx of xs) {
    if (price(dx, 0) >= least) break;
    for (const dy of ys) {
      if (price(dx, dy) >= least) break;
      const there = { l: q.l + dx, t: q.t + dy, w: q.w, h: q.h };
      if (taken.some((d) => hits(there, d))) continue;
      const all = price(dx, dy) + lines(there);
      if (all >= least) continue;
      best = { dx, dy };
      least = all;
    }
  }
  return best;
}

/** Whether the line between the middles of two rectangles runs over a third: tried at 16 points. */
function crosses(a: Rect, b: Rect, over: Taken): boolean {
  for (let i = 1; i < 16; i++) {
    const x = a.l + a.w / 2 + ((b.l + b.w / 2 - a.l - a.w / 2) * i) / 16;
    const y = a.t + a.h / 2 + ((b.t + b.h / 2 - a.t - a.h / 2) * i) / 16;
    if (x > over.l && x < over.l + over.w && y > over.t && y < over.t + over.h) return true;
  }
  return false;
}
