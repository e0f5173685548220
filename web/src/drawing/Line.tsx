import { useEffect, useRef } from "react";
import { Link } from "react-router";
import type { StageSummary, UnitKind } from "../api/client";
import { label, percent, teethPair } from "../format/numbers";
import { stateWords } from "../format/words";
import { StageGlyph } from "./StageGlyph";

/** How each state is drawn besides its color. */
const stateSigns = { measured: "✓", assumed: "≈", conflict: "≠", unknown: "?" } as const;

export function StateMark({ state }: { state: StageSummary["state"] }) {
  return (
    <span className={`state state-${state}`}>
      <i aria-hidden="true">{stateSigns[state]}</i> {stateWords[state]}
    </span>
  );
}

/** A unit's driveline as it lies: power enters at the left and leaves at wheels or propeller. */
export function Line({ stages, kind, current }: { stages: StageSummary[]; kind: UnitKind; current?: number }) {
  const nav = useRef<HTMLElement>(null);
  // A long line is scrolled to the stage that is open.
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed line or stage is a reason to scroll
  useEffect(() => {
    const el = nav.current;
    const here = el?.querySelector<HTMLElement>(".is-current");
    if (el && here) el.scrollLeft = here.offsetLeft - (el.clientWidth - here.offsetWidth) / 2;
  }, [current, stages.length]);
  return (
    <nav ref={nav} className="line" aria-label="Driveline">
      <span className="line-end">
        <svg viewBox="0 0 60 80" width={42} height={56} aria-hidden="true" className="glyph">
          <path d="M30 40H60" className="shaft" />
          <path d="M6 22h32v36H6zM12 14h20v8H12zM12 58h20v6H12z" className="metal" />
        </svg>
        <small>engine</small>
      </span>
      {stages.map((s) => (
        <Link
          key={s.id}
          to={`/stages/${s.id}`}
          className={`line-stage is-${s.state}${s.id === current ? " is-current" : ""}`}
          aria-current={s.id === current ? "page" : undefined}
        >
          <StageGlyph kind={s.question.kind} width={72} />
          <span className="line-name">{s.name}</span>
          <span className="line-ratio">
            {s.label ? (
              <>
                <b>{label(s.label.label)}</b>
                <span>{s.build?.teeth.length ? teethPair(s.build.teeth) : percent(s.label.probability)}</span>
              </>
            ) : (
              <b>?</b>
            )}
          </span>
          {s.trouble ? <small className="trouble">{s.trouble}</small> : <StateMark state={s.state} />}
        </Link>
      ))}
      <span className="line-end">
        <svg viewBox="0 0 60 80" width={42} height={56} aria-hidden="true" className="glyph">
          <path d="M0 40H26" className="shaft" />
          {kind === "boat" ? (
            <path d="M26 40c2-20 16-30 20-16 2 10-8 16-20 16zc2 20 16 30 20 16 2-10-8-16-20-16z" className="metal" />
          ) : (
            <path d="M24 6h22v30H24zM24 44h22v30H24zM32 36h6v8h-6z" className="metal" />
          )}
        </svg>
        <small>{kind === "boat" ? "propeller" : kind === "part" ? "output" : "wheels"}</small>
      </span>
    </nav>
  );
}
