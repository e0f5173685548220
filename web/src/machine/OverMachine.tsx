import type { ReactNode } from "react";
import type { Doc, Trace } from "../api/client";
import { Machine, usePlan } from "./Machine";
import type { Plan } from "./plan";
import classes from "./shares.module.css";

type Props = {
  doc: Doc;
  trace: Trace;
  chosen?: string;
  chosenPart?: string;
  onShaft?: (id: string) => void;
  onPart?: (id: string) => void;
  /** Drawn over it, in the plan's own measure. */
  children: (plan: Plan) => ReactNode;
  /** Below it. */
  caption?: ReactNode;
  /** As wide as there is room, however small; otherwise it is scrolled on a phone. */
  fit?: boolean;
};

const nothing = () => {};

/** The machine with something drawn over it. */
export function OverMachine({ doc, trace, chosen, chosenPart, onShaft, onPart, children, caption, fit }: Props) {
  const plan = usePlan(doc);
  return (
    <div className={classes.frame}>
      <div
        className={fit ? `${classes.inner} ${classes.fit}` : classes.inner}
        style={{ aspectRatio: `${plan.w} / ${plan.h}` }}
        data-upright={plan.upright || undefined}
      >
        <Machine
          doc={doc}
          trace={trace}
          chosen={chosen || undefined}
          chosenPart={chosenPart}
          onShaft={onShaft ?? nothing}
          onPart={onPart ?? nothing}
        />
        <svg viewBox={`0 0 ${plan.w} ${plan.h}`} className={classes.over} aria-hidden>
          {children(plan)}
        </svg>
      </div>
      {caption}
    </div>
  );
}

type Spot = { x: number; y: number };

/** Where a shaft lies on the drawing. */
export function shaftSpot(plan: Plan, shaft: string): Spot | undefined {
  const rod = plan.rods.find((r) => r.shaft === shaft);
  if (rod) return { x: (rod.x1 + rod.x2) / 2, y: (rod.y1 + rod.y2) / 2 };
  const disc = plan.discs.find((d) => d.shaft === shaft);
  return disc && { x: disc.x, y: disc.y };
}

/** Where a part lies on the drawing. */
export function partSpot(plan: Plan, part: string): Spot | undefined {
  const box = plan.boxes.find((b) => b.part === part);
  if (box) return { x: box.x + box.w / 2, y: box.y + box.h / 2 };
  const disc = plan.discs.find((d) => d.shaft.startsWith(`${part}.`));
  if (disc) return { x: disc.x, y: disc.y };
  const rod = plan.rods.find((r) => r.shaft.startsWith(`${part}.`));
  return rod && { x: (rod.x1 + rod.x2) / 2, y: (rod.y1 + rod.y2) / 2 };
}
