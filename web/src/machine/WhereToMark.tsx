import type { Doc, Part } from "../api/client";
import { Machine, usePlan } from "./Machine";
import { ports } from "./parts";
import type { Plan } from "./plan";
import { fedBy, portOf } from "./tree";
import { useTrace } from "./useTrace";
import classes from "./where.module.css";

const still = {};
const nothing = () => {};

type Mark = { x: number; y: number; words: string; below: boolean };

/** Everything that a part feeds, directly or further on. */
function fed(d: Doc, p: Part): Part[] {
  return ports(p).flatMap((x) => {
    const q = fedBy(d, portOf(p, x));
    return q ? [q, ...fed(d, q)] : [];
  });
}

/** Where a hand marks and turns to measure a part: its input, and what its outputs end in. */
function marks(d: Doc, plan: Plan, p: Part): Mark[] {
  const box = plan.boxes.find((b) => b.part === p.id);
  if (!box) return [];
  const wheels = new Set(fed(d, p).flatMap((q) => (q.kind === "wheel" ? [`${q.id}.wheel`] : [])));
  const turned = plan.discs.filter((c) => c.look === "wheel" && wheels.has(c.shaft));
  const axle = p.kind === "axle" || p.kind === "hub";
  // The shaft that feeds it arrives at its housing's side.
  const feed = plan.rods.find(
    (r) =>
      Math.abs(r.y1 - r.y2) < 1 &&
      r.y1 > box.y &&
      r.y1 < box.y + box.h &&
      (Math.abs(r.x2 - box.x) < 40 || Math.abs(r.x1 - (box.x + box.w)) < 40 || Math.abs(r.x2 - (box.x + box.w)) < 40),
  );
  const outside = feed && (feed.x1 + feed.x2) / 2 > box.x + box.w / 2;
  const input = { x: outside ? box.x + box.w + 10 : box.x - 10, y: feed?.y1 ?? box.y + box.h / 2 };
  if (axle && turned.length > 0) {
    const middle = turned.reduce((sum, c) => sum + c.y, 0) / turned.length;
    return [
      { ...input, words: "mark the flange, count its turns", below: input.y <= middle },
      ...turned.map((c) => ({ x: c.x, y: c.y, words: "mark the tire, turn", below: c.y > box.y })),
    ];
  }
  return [
    { ...input, words: "mark and count here", below: true },
    { x: outside ? box.x - 10 : box.x + box.w + 10, y: input.y, words: "mark the output", below: false },
  ];
}

/** A part of this unit's own machine, with where to mark and what to turn. */
export function WhereToMark({ doc, part }: { doc: Doc; part: string }) {
  const plan = usePlan(doc);
  const { trace } = useTrace(doc, still);
  const p = doc.parts.find((q) => q.id === part);
  const at = p ? marks(doc, plan, p) : [];
  if (!trace || !p || at.length === 0) return null;
  const box = plan.boxes.find((b) => b.part === p.id);
  const xs = [...at.map((m) => m.x), box?.x ?? 0, (box?.x ?? 0) + (box?.w ?? 0)];
  const ys = [...at.map((m) => m.y), box?.y ?? 0, (box?.y ?? 0) + (box?.h ?? 0)];
  const x = Math.min(...xs) - 130;
  const y = Math.min(...ys) - 60;
  const w = Math.max(...xs) + 130 - x;
  const h = Math.max(...ys) + 60 - y;
  return (
    <figure className={classes.where}>
      <div className={classes.drawn}>
        <Machine doc={doc} trace={trace} chosenPart={part} view={[x, y, w, h]} onShaft={nothing} onPart={nothing} />
        <svg viewBox={`${x} ${y} ${w} ${h}`} className={classes.marks} aria-hidden="true">
          {at.map((m) => (
            <g key={`${m.x} ${m.y}`}>
              <circle cx={m.x} cy={m.y} r={15} />
              <path d={`M${m.x} ${m.y + (m.below ? 15 : -15)}v${m.below ? 16 : -16}`} />
              <text x={m.x} y={m.y + (m.below ? 46 : -36)} textAnchor="middle">
                {m.words}
              </text>
            </g>
          ))}
        </svg>
      </div>
      <figcaption>
        On this machine:{" "}
        {at
          .map((m) => m.words)
          .filter((v, i, all) => all.indexOf(v) === i)
          .join("; ")}
        .
      </figcaption>
    </figure>
  );
}
