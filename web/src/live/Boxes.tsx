import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { LiveShaft } from "../api/client";
import type { Disc } from "./film";
import classes from "./live.module.css";

/** A square laid over a disc: its corner and side, in shares of the picture's width (its corner's height: of its height). */
export type Laid = { shaft: LiveShaft; x: number; y: number; w: number; marks: number };

type Props = {
  size: { width: number; height: number };
  laid: Laid[];
  discs: Disc[];
  onLay: (l: Laid[]) => void;
  fixed: boolean;
};

const names: Record<LiveShaft, string> = { shaft: "driveshaft", left: "wheel", right: "wheel", output: "output" };

/** The boxes over the picture: dragged by the middle, sized by the corner, or moved by arrow keys. */
export function Boxes({ size, laid, discs, onLay, fixed }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const change = (i: number, to: Partial<Laid>) =>
    onLay(laid.map((l, k) => (k === i ? kept({ ...l, ...to }, size) : l)));
  const drag = (i: number, how: "move" | "size") => (e: PointerEvent<SVGElement>) => {
    if (fixed) return;
    const from = laid[i];
    const at = { x: e.clientX, y: e.clientY };
    const wide = svg.current?.getBoundingClientRect().width ?? 1;
    const target = e.currentTarget;
    target.setPointerCapture(e.pointerId);
    const move = (ev: globalThis.PointerEvent) => {
      const dx = (ev.clientX - at.x) / wide;
      const dy = (ev.clientY - at.y) / wide;
      if (how === "move") change(i, { x: from.x + dx, y: from.y + (dy * size.width) / size.height });
      else change(i, { w: from.w + Math.max(dx, dy) });
    };
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", () => target.removeEventListener("pointermove", move), { once: true });
  };
  const keys = (i: number) => (e: KeyboardEvent) => {
    const l = laid[i];
    const step = 0.01;
    const to: Record<string, Partial<Laid>> = {
      ArrowLeft: { x: l.x - step },
      ArrowRight: { x: l.x + step },
      ArrowUp: { y: l.y - step },
      ArrowDown: { y: l.y + step },
      "+": { w: l.w + step },
      "-": { w: l.w - step },
    };
    if (fixed || !to[e.key]) return;
    e.preventDefault();
    change(i, to[e.key]);
  };
  return (
    <svg ref={svg} viewBox={`0 0 ${size.width} ${size.height}`} className={classes.boxes}>
      <title>Boxes over the discs</title>
      {laid.map((l, i) => {
        const [x, y, w] = [l.x * size.width, l.y * size.height, l.w * size.width];
        const disc = discs.find((d) => d.shaft === l.shaft);
        return (
          <g key={l.shaft} data-state={disc?.state}>
            {/* biome-ignore lint/a11y/useSemanticElements: it is drawn */}
            <rect
              x={x}
              y={y}
              width={w}
              height={w}
              tabIndex={0}
              role="button"
              aria-label={`Box over the ${names[l.shaft]}: arrow keys move it, plus and minus size it`}
              onPointerDown={drag(i, "move")}
              onKeyDown={keys(i)}
            />
            <circle cx={x + w / 2} cy={y + w / 2} r={w / 2} />
            {disc?.state === "followed" && (
              <path
                d={`M0 ${-w / 2}V${-w * 0.28}`}
                transform={`translate(${x + w / 2} ${y + w / 2}) rotate(${disc.angle * 360})`}
              />
            )}
            <text x={x + size.width / 90} y={y + size.width / 26} fontSize={size.width / 30}>
              {names[l.shaft]}
            </text>
            <circle cx={x + w} cy={y + w} r={size.width / 48} data-corner onPointerDown={drag(i, "size")} />
          </g>
        );
      })}
    </svg>
  );
}

/** Within the picture, and neither tiny nor larger than it. */
function kept(l: Laid, size: { width: number; height: number }): Laid {
  const tall = size.height / size.width;
  const w = Math.min(Math.max(l.w, 0.06), Math.min(1, tall));
  return { ...l, w, x: Math.min(Math.max(l.x, 0), 1 - w), y: Math.min(Math.max(l.y, 0), 1 - w / tall) };
}
