import { useEffect, useRef } from "react";
import type { SoundAnswer } from "../../api/client";
import { useUnits } from "../../app/units";
import { fixed, fromKMH, speedUnit } from "../../format/numbers";
import classes from "./listen.module.css";

const wide = 900;
const high = 420;
const left = 64;
const bottom = 46;

/** How loud each order is, moment by moment: what turns with the wheels is an upright line, whatever the speed. */
export function OrderMap({ a, chosen }: { a: SoundAnswer; chosen?: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [units] = useUnits();
  const { map } = a;
  useEffect(() => {
    const c = canvas.current;
    const columns = map.rows[0]?.length ?? 0;
    const g = c?.getContext("2d");
    if (!c || !g || columns === 0) return;
    c.width = columns;
    c.height = map.rows.length;
    const picture = g.createImageData(columns, map.rows.length);
    map.rows.forEach((row, y) => {
      row.forEach((db, x) => {
        const t = Math.min(db / 22, 1);
        // From the night of the bench to brass.
        picture.data.set([22 + 222 * t, 34 + 154 * t ** 1.3, 38 + 32 * t, 255], 4 * (y * columns + x));
      });
    });
    g.putImageData(picture, 0, 0);
  }, [map]);
  const x = (order: number) => left + (order / map.top) * (wide - left - 12);
  const step = map.top > 120 ? 20 : 10;
  const named = a.sources.filter((s) => s.kind !== "fixed_tone" && (s.per_wheel_turn ?? 0) * a.scale < map.top);
  const speeds = [0, 0.25, 0.5, 0.75, 1].map((f) => Math.round(f * (map.kmh.length - 1)));
  return (
    <figure className={classes.map}>
      <div className={classes.plot}>
        <canvas
          ref={canvas}
          style={{ left: `${(100 * left) / wide}%`, right: `${1200 / wide}%`, bottom: `${(100 * bottom) / high}%` }}
        />
        <svg viewBox={`0 0 ${wide} ${high}`} role="img" aria-label={`Order map. ${a.sentence}`}>
          {named.slice(0, 4).map((s, i) => {
            const at = x((s.per_wheel_turn ?? 0) * a.scale);
            const on = chosen === s.name || (!chosen && i === 0);
            return (
              <g key={s.name} className={on ? classes.on : classes.off}>
                <path d={`M${at} ${high - bottom}v-${high - bottom}`} strokeDasharray={on ? "10 8" : "2 8"} />
                <text
                  x={at > wide * 0.7 ? at - 6 : at + 6}
                  y={24 + 24 * i}
                  textAnchor={at > wide * 0.7 ? "end" : "start"}
                >
                  {s.name}
                </text>
              </g>
            );
          })}
          {Array.from({ length: Math.floor(map.top / step) + 1 }, (_, i) => i * step).map((o) => (
            <text key={o} x={x(o)} y={high - bottom + 20} textAnchor="middle" className={classes.tick}>
              {o}
            </text>
          ))}
          <text x={(left + wide) / 2} y={high - 4} textAnchor="middle" className={classes.tick}>
            cycles per wheel turn
          </text>
          {speeds.map((k) => (
            <text
              key={k}
              x={left - 8}
              y={12 + ((high - bottom - 16) * k) / Math.max(1, map.kmh.length - 1)}
              textAnchor="end"
              className={classes.tick}
            >
              {fixed(fromKMH(map.kmh[k] ?? 0, units), 0)}
            </text>
          ))}
        </svg>
      </div>
      <figcaption className="dim">
        Down the picture: time, by speed in {speedUnit(units)}. Bright: over the noise. An upright line turns with the
        wheels.
      </figcaption>
    </figure>
  );
}
