import type { Doc, Trace } from "../api/client";
import { partName } from "./document";
import { Machine, usePlan } from "./Machine";
import type { Plan } from "./plan";
import classes from "./shares.module.css";

type Props = {
  doc: Doc;
  trace: Trace;
  /** Of each part, its share of the whole. */
  parts?: Record<string, number>;
  chosen?: string;
  onShaft?: (id: string) => void;
  of: string;
};

const nothing = () => {};

/** The machine with a share on each part, as large as it is. */
export function PartShares({ doc, trace, parts, chosen, onShaft, of }: Props) {
  const plan = usePlan(doc);
  const shares = Object.entries(parts ?? {}).sort(([, a], [, b]) => b - a);
  return (
    <div className={classes.frame}>
      <div className={classes.inner} style={{ aspectRatio: `${plan.w} / ${plan.h}` }}>
        <Machine doc={doc} trace={trace} chosen={chosen || undefined} onShaft={onShaft ?? nothing} onPart={nothing} />
        <svg viewBox={`0 0 ${plan.w} ${plan.h}`} className={classes.over} aria-hidden>
          {shares.map(([id, share]) => {
            const spot = middle(plan, id);
            if (!spot || share < 0.02) return null;
            return (
              <g key={id}>
                <circle cx={spot.x} cy={spot.y} r={10 + 46 * Math.sqrt(share)} className={classes.share} />
                <text x={spot.x} y={spot.y + 5} className={classes.percent}>
                  {Math.round(share * 100)}
                </text>
              </g>
            );
          })}
        </svg>
      </div>
      {shares.length > 0 && (
        <p className="dim">
          {of}:{" "}
          {shares
            .filter(([, v]) => v >= 0.005)
            .slice(0, 6)
            .map(([id, v]) => {
              const p = doc.parts.find((x) => x.id === id);
              return `${p ? partName(p).toLowerCase() : id} ${Math.round(v * 100)}`;
            })
            .join(", ")}
        </p>
      )}
    </div>
  );
}

/** Where a part lies on the drawing. */
function middle(plan: Plan, part: string): { x: number; y: number } | undefined {
  const box = plan.boxes.find((b) => b.part === part);
  if (box) return { x: box.x + box.w / 2, y: box.y + box.h / 2 };
  const disc = plan.discs.find((d) => d.shaft.startsWith(`${part}.`));
  if (disc) return { x: disc.x, y: disc.y };
  const rod = plan.rods.find((r) => r.shaft.startsWith(`${part}.`));
  return rod && { x: (rod.x1 + rod.x2) / 2, y: (rod.y1 + rod.y2) / 2 };
}
