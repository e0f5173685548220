import { VisuallyHidden } from "@mantine/core";
import { type KeyboardEvent, type ReactNode, useMemo, useRef } from "react";
import type { Doc, Part, StageSummary } from "../api/client";
import { stateSigns } from "../drawing/StateMark";
import { chance, label } from "../format/numbers";
import { stateWords } from "../format/words";
import { partName } from "./document";
import classes from "./doors.module.css";
import { kinds, ports, ratioNames } from "./parts";
import type { Box, Plan, Spot } from "./plan";
import { fedBy, portOf } from "./tree";
import { inOrder, spotStyle } from "./upright";

/** Parts that one goes to: all but bare shafts and wheels. */
export const hasDoor = (p: Part) => !kinds[p.kind].plain;

/** For each part with a door: what feeds it, and what it feeds, past shafts. */
function ways(d: Doc) {
  const from = new Map<string, string>();
  const to = new Map<string, string[]>();
  const order: string[] = [];
  const walk = (p: Part | undefined, before: string | undefined) => {
    if (!p) return;
    const here = hasDoor(p) ? p.id : before;
    if (hasDoor(p)) {
      order.push(p.id);
      if (before) {
        from.set(p.id, before);
        to.set(before, [...(to.get(before) ?? []), p.id]);
      }
    }
    for (const x of ports(p)) walk(fedBy(d, portOf(p, x)), here);
  };
  walk(
    d.parts.find((p) => !p.from),
    undefined,
  );
  return { from, to, order };
}

/** The part that an arrow key leads to from one: along the power, or to the branch beside it. */
function along(d: Doc, id: string, key: string): string | undefined {
  const w = ways(d);
  const before = w.from.get(id);
  const beside = before ? (w.to.get(before) ?? []) : [];
  switch (key) {
    case "ArrowRight":
      return w.to.get(id)?.[0];
    case "ArrowLeft":
      return before;
    case "ArrowDown":
      return beside[beside.indexOf(id) + 1] ?? w.to.get(id)?.[0];
    case "ArrowUp":
      return beside[beside.indexOf(id) - 1] ?? before;
    case "Home":
      return w.order[0];
    case "End":
      return w.order.at(-1);
  }
  return undefined;
}

type Props = {
  doc: Doc;
  plan: Plan;
  stages: StageSummary[];
  chosen?: string;
  /** Without names and figures, for a drawing that is small. */
  small?: boolean;
  /** Which parts can be gone to; all, if left out. */
  open?: (p: Part) => boolean;
  onPart: (id: string) => void;
};

/** A door on every part of the drawn machine, with its ratios and how sure they are. */
export function Doors({ doc, plan, stages, chosen, small, open, onPart }: Props) {
  const nav = useRef<HTMLElement>(null);
  const parts = useMemo(() => {
    const { order } = ways(doc);
    return order.flatMap((id) => doc.parts.filter((p) => p.id === id));
  }, [doc]);
  const first = parts.find((p) => !open || open(p))?.id;
  const step = (e: KeyboardEvent, id: string) => {
    let next = along(doc, id, e.key);
    while (next && open && !open(doc.parts.find((p) => p.id === next) as Part)) next = along(doc, next, e.key);
    if (!next) return;
    e.preventDefault();
    nav.current?.querySelector<HTMLElement>(`[data-part="${CSS.escape(next)}"]`)?.focus();
  };
  return (
    <nav ref={nav} aria-label="Parts" className="beside">
      {inOrder(
        parts.map((p) => {
          const spot = plan.spots.find((s) => s.part === p.id);
          const box = plan.boxes.find((b) => b.part === p.id);
          return { p, ...place(spot, box, small) };
        }),
        plan,
      ).map(({ p, ...at }) => {
        const mine = stages.filter((s) => s.part === p.id && s.present);
        const shut = open && !open(p);
        const state = worst(p, mine);
        return (
          <div key={p.id} className={`spot ${at.side}`} style={spotStyle(at, plan)}>
            <button
              type="button"
              data-part={p.id}
              disabled={shut}
              tabIndex={p.id === (chosen ?? first) ? 0 : -1}
              aria-current={p.id === chosen ? "true" : undefined}
              aria-label={small ? [partName(p), ...told(p, mine).map((t) => t.words)].join(", ") : undefined}
              className={`${small ? classes.dot : classes.door} ${state ? classes[state] : small ? classes.bare : ""}`}
              onClick={() => onPart(p.id)}
              onKeyDown={(e) => step(e, p.id)}
            >
              {small ? (
                <i aria-hidden="true">{state ? stateSigns[state] : "·"}</i>
              ) : (
                <>
                  <span className={classes.name}>{partName(p)}</span>
                  {told(p, mine).map((t) => (
                    <span key={t.key} className={classes.ratio}>
                      {t.short} {t.more && <VisuallyHidden component="span">{t.more}</VisuallyHidden>}
                    </span>
                  ))}
                </>
              )}
            </button>
          </div>
        );
      })}
    </nav>
  );
}

/** Beside its housing, or in the middle of it where the drawing is small. */
function place(spot: Spot | undefined, box: Box | undefined, small: boolean | undefined) {
  if (small && box) return { x: box.x + box.w / 2, y: box.y + box.h / 2, side: "" };
  if (!spot) return { x: 0, y: 0, side: "" };
  if (box && spot.side === "right") return { ...spot, x: box.x + box.w };
  if (box && spot.side === "left") return { ...spot, x: box.x };
  return spot;
}

const rank = { conflict: 0, unknown: 1, assumed: 2, measured: 3 } as const;

/** The least sure of a part's ratios that anything was read of; unknown where nothing was. */
function worst(p: Part, stages: StageSummary[]): StageSummary["state"] | undefined {
  const read = stages.filter((s) => s.state !== "unknown");
  if (read.length > 0) return read.map((s) => s.state).sort((a, b) => rank[a] - rank[b])[0];
  if (stages.length === 0) return undefined;
  return ratioNames(p).some((n) => p.sources?.[n]?.kind === "plate") ? "assumed" : "unknown";
}

const named = (s: StageSummary) => (s.ratio === "ratio" ? "" : s.question.kind === "gearbox" ? `${s.ratio}:` : s.ratio);

type Told = { key: string; short: ReactNode /** What the sign stands for. */; more?: string; words: string };

/** What is known of a part's ratios, short for the door and in words. */
function told(p: Part, stages: StageSummary[]): Told[] {
  const read = stages.filter((s) => s.state !== "unknown");
  const lines = read.slice(0, 3).map((s): Told => {
    const more = `${stateWords[s.state]}${s.label ? ` ${chance(s.label.probability)}` : ""}`;
    return {
      key: s.ratio,
      short: (
        <>
          {named(s)} <b>{s.label ? label(s.label.label) : (s.about ?? "?")}</b>{" "}
          <i aria-hidden="true">{stateSigns[s.state]}</i>
        </>
      ),
      more,
      words: `${named(s)} ${s.label?.label ?? s.about ?? "?"} ${more}`.trim(),
    };
  });
  if (read.length > 3) lines.push({ key: "more", short: `${read.length - 3} more`, words: `${read.length - 3} more` });
  if (read.length > 0 || stages.length === 0) return lines;
  const plate = ratioNames(p).some((n) => p.sources?.[n]?.kind === "plate");
  if (plate) return [{ key: "none", short: "from the plate", words: "from the plate" }];
  return [{ key: "none", short: <i aria-hidden="true">?</i>, more: "not measured", words: "not measured" }];
}
