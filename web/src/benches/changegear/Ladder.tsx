import { type KeyboardEvent, useEffect, useRef } from "react";
import type { ChangeGearsAnswer, ChangeGearsRung } from "../../api/client";
import { useUnits } from "../../app/units";
import { change, fixed, fromKMH, speedUnit } from "../../format/numbers";
import classes from "./changegear.module.css";

type Props = { answer: ChangeGearsAnswer; at: number; onTake: (rung: number) => void };

/** Every ratio of the shelf as rungs, shorter at the top, spaced by their steps. */
export function Ladder({ answer, at, onTake }: Props) {
  const [units] = useUnits();
  const list = useRef<HTMLDivElement>(null);
  const picked = answer.pick?.chosen?.rung;
  // The rung that counts comes into view, whatever stands above it.
  useEffect(() => {
    const box = list.current;
    const rung = box?.querySelectorAll<HTMLElement>("[role=radio]")[at];
    if (box && rung) box.scrollTop = rung.offsetTop - box.clientHeight / 2 + rung.clientHeight / 2;
  }, [at]);
  const move = (e: KeyboardEvent) => {
    const step = { ArrowUp: -1, ArrowLeft: -1, ArrowDown: 1, ArrowRight: 1 }[e.key];
    const next = step && at + step;
    if (next === undefined || next < 0 || next >= answer.ladder.length) return;
    e.preventDefault();
    onTake(next);
    list.current?.querySelectorAll<HTMLElement>("[role=radio]")[next]?.focus();
  };
  const rung = (r: ChangeGearsRung, i: number) => (
    <div key={`${r.overall.num}/${r.overall.den}`}>
      {/* biome-ignore lint/a11y/useSemanticElements: a rung holds several words and marks */}
      <button
        type="button"
        role="radio"
        aria-checked={i === at}
        tabIndex={i === at ? 0 : -1}
        className={`${classes.rung} ${i === at ? classes.taken : ""} ${i === picked ? classes.picked : ""}`}
        onClick={() => onTake(i)}
        onKeyDown={move}
      >
        <b>{r.overall.label}</b>
        <span className={classes.ways}>
          {r.ways.map((w) => (
            <span key={`${w.set} ${w.input} ${w.name}`}>
              {w.set ? `set ${w.name}` : w.name}: {w.input} in, {w.pinion} on pinion
              {w.wear && w.wear !== "new" ? ` · ${w.wear}` : ""}
            </span>
          ))}
        </span>
        <span className={classes.marks}>
          {r.fitted && <em>in it</em>}
          {i === picked && <em className={classes.pickMark}>pick</em>}
        </span>
        <span className={classes.speed}>
          {r.kmh !== undefined && `${fixed(fromKMH(r.kmh, units), 0)} ${speedUnit(units)}`}
        </span>
      </button>
      {r.step_percent !== undefined && (
        <small className={`${classes.step} ${r.gap ? classes.gap : ""}`}>
          {r.gap ? "gap, " : ""}
          {change(r.step_percent).replace("+", "")} taller
        </small>
      )}
    </div>
  );
  return (
    <div ref={list} role="radiogroup" aria-label="Ratios on the shelf, shorter first" className={classes.ladder}>
      <p className="dim">
        shorter (numerically higher) ↑
        {answer.rpm ? ` · speed at ${fixed(answer.rpm, 0)} rpm in gear ${answer.gear}` : ""}
      </p>
      {answer.ladder.map(rung)}
      <p className="dim">taller (numerically lower) ↓</p>
    </div>
  );
}
