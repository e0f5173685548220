import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import { fixed } from "../format/numbers";
import "./drawing.css";

const words: Record<number, string> = { 0: "on the mark", 0.25: "a quarter", 0.5: "half", 0.75: "three quarters" };

/**
 * The flange with its chalk mark: drag the mark to where it stopped, or use
 * the arrow keys. Value is the part of a turn past (or short of) the fixed mark.
 */
export function Flange({ value, short, onChange }: { value: number; short: boolean; onChange: (v: number) => void }) {
  const face = useRef<HTMLDivElement>(null);
  const drag = (e: PointerEvent) => {
    const box = face.current?.getBoundingClientRect();
    if (!box || (e.type === "pointermove" && e.buttons === 0)) return;
    const a = Math.atan2(e.clientX - box.x - box.width / 2, -(e.clientY - box.y - box.height / 2)) / (2 * Math.PI);
    const turn = ((short ? -a : a) + 1) % 1;
    onChange((Math.round(turn * 20) / 20) % 1);
  };
  const key = (e: KeyboardEvent) => {
    const step = { ArrowRight: 0.05, ArrowUp: 0.05, ArrowLeft: -0.05, ArrowDown: -0.05, PageUp: 0.25, PageDown: -0.25 }[
      e.key
    ];
    if (e.key === "Home") onChange(0);
    else if (step) onChange(Math.round((((value + step + 1) % 1) + 1e-9) * 100) / 100);
    else return;
    e.preventDefault();
  };
  const angle = value * 360 * (short ? -1 : 1);
  const end = ((angle - 90) * Math.PI) / 180;
  const said = words[value] ?? `${fixed(value, 2)} turn`;
  return (
    <div
      ref={face}
      className="flange"
      role="slider"
      tabIndex={0}
      aria-label="Where the chalk mark stopped on the flange"
      aria-valuemin={0}
      aria-valuemax={0.95}
      aria-valuenow={value}
      aria-valuetext={`${said} ${value === 0 ? "" : short ? "short" : "past"}`}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        drag(e);
      }}
      onPointerMove={drag}
      onKeyDown={key}
    >
      <svg viewBox="-60 -60 120 120" aria-hidden="true">
        <circle r={46} className="metal" />
        {[45, 135, 225, 315].map((a) => (
          <circle
            key={a}
            cx={32 * Math.cos((a * Math.PI) / 180)}
            cy={32 * Math.sin((a * Math.PI) / 180)}
            r={4}
            className="bore"
          />
        ))}
        <circle r={13} className="bore" />
        {Array.from({ length: 20 }, (_, i) => i).map((i) => (
          <path key={i} d={`M0 -46V${i % 5 === 0 ? -38 : -42}`} transform={`rotate(${i * 18})`} className="tick" />
        ))}
        {value > 0 && (
          <path
            d={`M0 -50A50 50 0 ${value > 0.5 ? 1 : 0} ${short ? 0 : 1} ${50 * Math.cos(end)} ${50 * Math.sin(end)}`}
            className="swept"
          />
        )}
        <path d="M-5 -60H5L0 -49z" className="pointer" />
        <path d="M0 -22V-46" transform={`rotate(${angle})`} className="chalk" />
      </svg>
    </div>
  );
}
