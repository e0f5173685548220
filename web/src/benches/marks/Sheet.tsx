import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { MarkPoint } from "../../api/client";
import type { Counted } from "./Marker";
import classes from "./marks.module.css";

type Props = {
  width: number;
  height: number;
  r: number;
  points: MarkPoint[];
  doubtful: MarkPoint[];
  count: Counted;
  onPoints?: (p: MarkPoint[]) => void;
  /** A place is asked for, not a mark. */
  onPlace?: (p: MarkPoint) => void;
};

/** What lies over the photo: marks that are tapped, dragged, or moved to by the arrow keys. */
export function Sheet({ width, height, r, points, doubtful, count, onPoints, onPlace }: Props) {
  const [cross, setCross] = useState({ x: width / 2, y: height / 2 });
  const [focused, setFocused] = useState(false);
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<{ mark: number; moved: boolean }>(undefined);
  const set = (p: MarkPoint[]) => onPoints?.(p);
  const at = (e: PointerEvent): MarkPoint | undefined => {
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
  const act = (p: MarkPoint) => (onPlace ? onPlace(p) : mark(p));
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
    } else if (e.key === " " || e.key === "Enter") act(cross);
    else if (e.key === "Backspace") set(points.slice(0, -1));
    else return;
    e.preventDefault();
  };
  const down = (e: PointerEvent<SVGSVGElement>) => {
    const p = at(e);
    if (!p || onPlace) return;
    const i = near(p);
    if (i < 0) return; // a finger may scroll the photo
    drag.current = { mark: i, moved: false };
    e.currentTarget.setPointerCapture(e.pointerId);
  };
  const move = (e: PointerEvent) => {
    const d = drag.current;
    const p = d && at(e);
    const from = d && points[d.mark];
    if (!d || !p || !from) return;
    if (!d.moved && Math.hypot(p.x - from.x, p.y - from.y) < r / 2) return;
    d.moved = true;
    set(points.map((q, k) => (k === d.mark ? p : q)));
  };
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${width} ${height}`}
      tabIndex={onPoints ? 0 : undefined}
      role={onPoints ? "application" : "img"}
      aria-label={`The photo with ${points.length} marks. Arrows move the cross, Space marks a tooth, Backspace undoes the last mark.`}
      className={onPlace ? classes.placing : undefined}
      onPointerDown={onPoints && down}
      onPointerMove={onPoints && move}
      onPointerCancel={() => {
        drag.current = undefined;
      }}
      onClick={(e) => {
        const moved = drag.current?.moved;
        drag.current = undefined;
        const p = onPoints && !moved && at(e as unknown as PointerEvent);
        if (p) act(p);
      }}
      onKeyDown={onPoints && press}
      onFocus={(e) => setFocused(e.currentTarget.matches(":focus-visible"))}
      onBlur={() => setFocused(false)}
    >
      {doubtful.map((p) => (
        <circle key={`${p.x} ${p.y}`} cx={p.x} cy={p.y} r={2.2 * r} className={classes.look} strokeWidth={r / 3} />
      ))}
      <Marks points={points} answer={count.answer} r={r} />
      {focused && (
        <path
          d={`M${cross.x - 3 * r} ${cross.y}H${cross.x + 3 * r}M${cross.x} ${cross.y - 3 * r}V${cross.y + 3 * r}`}
          className={classes.cross}
          strokeWidth={r / 3}
        />
      )}
    </svg>
  );
}

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
