import { Button } from "@mantine/core";
import { type KeyboardEvent, type MouseEvent, useRef, useState } from "react";
import { api, type MarkPoint, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { chance, percent } from "../../format/numbers";
import classes from "./marks.module.css";

const least = 6;

type Props = {
  src: string;
  width: number;
  height: number;
  points: MarkPoint[];
  onPoints?: (p: MarkPoint[]) => void;
};

/** How many teeth the marks speak for. */
export function useCount(points: MarkPoint[]) {
  return useCalc(key.toothMarks, { points }, (body, signal) => take(api.POST("/calc/tooth-marks", { body, signal })), {
    ready: points.length >= least,
    rest: 100,
  });
}

/** A photo on which each tooth is tapped once; the count follows, and what the spacing says of it. */
export function Marker({ src, width, height, points, onPoints }: Props) {
  const [zoom, setZoom] = useState(1);
  const [cross, setCross] = useState({ x: width / 2, y: height / 2 });
  const [focused, setFocused] = useState(false);
  const svg = useRef<SVGSVGElement>(null);
  const count = useCount(points);
  const r = Math.max(width, height) / 110 / Math.sqrt(zoom);
  const set = (p: MarkPoint[]) => onPoints?.(p);
  const at = (e: MouseEvent): MarkPoint | undefined => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return undefined;
    return {
      x: Math.round(((e.clientX - box.left) / box.width) * width * 10) / 10,
      y: Math.round(((e.clientY - box.top) / box.height) * height * 10) / 10,
    };
  };
  const near = (p: MarkPoint) => points.findIndex((q) => Math.hypot(q.x - p.x, q.y - p.y) < 1.5 * r);
  const mark = (p: MarkPoint) => {
    const i = near(p);
    // A mark that is tapped again is taken away.
    set(i >= 0 ? points.filter((_, k) => k !== i) : [...points, p]);
  };
  const press = (e: KeyboardEvent) => {
    const step = (e.shiftKey ? 0.05 : 0.005) * Math.max(width, height);
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    };
    const move = moves[e.key];
    if (move) {
      setCross({
        x: Math.min(width, Math.max(0, cross.x + move[0])),
        y: Math.min(height, Math.max(0, cross.y + move[1])),
      });
    } else if (e.key === " " || e.key === "Enter") mark(cross);
    else if (e.key === "Backspace") set(points.slice(0, -1));
    else return;
    e.preventDefault();
  };
  return (
    <div className={classes.marker}>
      <div className={classes.frame}>
        <div className={classes.sheet} style={{ width: `${100 * zoom}%`, aspectRatio: `${width} / ${height}` }}>
          <img src={src} alt="" draggable={false} />
          <svg
            ref={svg}
            viewBox={`0 0 ${width} ${height}`}
            tabIndex={onPoints ? 0 : undefined}
            role={onPoints ? "application" : "img"}
            aria-label={`The photo with ${points.length} marks. Arrows move the cross, Space marks a tooth, Backspace undoes the last mark.`}
            onClick={(e) => {
              const p = onPoints && at(e);
              if (p) mark(p);
            }}
            onKeyDown={onPoints && press}
            onFocus={(e) => setFocused(e.currentTarget.matches(":focus-visible"))}
            onBlur={() => setFocused(false)}
          >
            <Marks points={points} answer={count.answer} r={r} />
            {focused && (
              <path
                d={`M${cross.x - 3 * r} ${cross.y}H${cross.x + 3 * r}M${cross.x} ${cross.y - 3 * r}V${cross.y + 3 * r}`}
                className={classes.cross}
                strokeWidth={r / 3}
              />
            )}
          </svg>
        </div>
      </div>
      <Side points={points} count={count} zoom={zoom} onZoom={setZoom} onPoints={onPoints} />
    </div>
  );
}

type Counted = ReturnType<typeof useCount>;

/** The marks on the photo, the circle through them, and where the spacing is odd. */
function Marks({ points, answer, r }: { points: MarkPoint[]; answer: Counted["answer"]; r: number }) {
  return (
    <>
      {answer && (
        <ellipse
          cx={answer.ellipse.x}
          cy={answer.ellipse.y}
          rx={answer.ellipse.a}
          ry={answer.ellipse.b}
          transform={`rotate(${(answer.ellipse.turn * 180) / Math.PI} ${answer.ellipse.x} ${answer.ellipse.y})`}
          className={classes.circle}
          strokeWidth={r / 4}
        />
      )}
      {answer?.looks.map((l) => (
        <circle
          key={l.words}
          cx={l.at.x}
          cy={l.at.y}
          r={2.6 * r}
          className={classes.look}
          strokeWidth={r / 2}
          strokeDasharray={`${r} ${r / 2}`}
        />
      ))}
      {points.map((p, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: marks are numbered by their order
        <g key={i}>
          <circle cx={p.x} cy={p.y} r={r} className={classes.mark} strokeWidth={r / 5} />
          <text x={p.x} y={p.y + r * 0.42} fontSize={r * 1.15} className={classes.number}>
            {i + 1}
          </text>
        </g>
      ))}
    </>
  );
}

type SideProps = {
  points: MarkPoint[];
  count: Counted;
  zoom: number;
  onZoom: (z: number) => void;
  onPoints?: (p: MarkPoint[]) => void;
};

/** The count beside the photo, what the spacing says of it, and the tools. */
function Side({ points, count: { answer, error }, zoom, onZoom, onPoints }: SideProps) {
  return (
    <div className={classes.side}>
      <p className={classes.count} aria-live="polite">
        {answer ? answer.count : points.length}
        <small>{answer ? "teeth" : points.length === 1 ? "mark" : "marks"}</small>
      </p>
      {points.length < least && onPoints && (
        <p>Tap each tooth once, one after the other. From {least} marks on the spacing is looked at.</p>
      )}
      {error && <p className="trouble">{error.message}</p>}
      {answer && (
        <>
          <h2>{answer.sentence}</h2>
          <ul>
            {answer.looks.map((l) => (
              <li key={l.words}>{l.words}</li>
            ))}
          </ul>
          <p className="dim">
            By the spacing, {chance(answer.chance)}: one tooth is {answer.spacing_deg}°, neighbors differ by{" "}
            {percent(answer.spread)}; it is seen {answer.tilt_deg}° from the side, and the circle is corrected for that.
          </p>
        </>
      )}
      <div className="row wrap">
        {[1, 2, 4].map((z) => (
          <Button
            key={z}
            size="compact-md"
            variant={z === zoom ? "filled" : "default"}
            onClick={() => onZoom(z)}
            aria-pressed={z === zoom}
          >
            {z === 1 ? "whole" : `${z}×`}
          </Button>
        ))}
        {onPoints && (
          <>
            <Button
              size="compact-md"
              variant="default"
              disabled={points.length === 0}
              onClick={() => onPoints(points.slice(0, -1))}
            >
              Undo the last mark
            </Button>
            <Button size="compact-md" variant="default" disabled={points.length === 0} onClick={() => onPoints([])}>
              Start over
            </Button>
          </>
        )}
      </div>
    </div>
  );
}
