import { useReducedMotion } from "@mantine/hooks";
import { useEffect, useRef } from "react";
import type { LiveCount, LiveShaft } from "../api/client";
import metal from "../drawing/shafts.module.css";
import classes from "./live.module.css";

const names: Record<LiveShaft, string> = {
  shaft: "driveshaft",
  left: "left wheel",
  right: "right wheel",
  output: "output",
};

type Disc = { shaft: LiveShaft; x: number; r: number };

const axle: Disc[] = [
  { shaft: "left", x: 108, r: 84 },
  { shaft: "shaft", x: 320, r: 52 },
  { shaft: "right", x: 532, r: 84 },
];
const part: Disc[] = [
  { shaft: "shaft", x: 200, r: 60 },
  { shaft: "output", x: 440, r: 60 },
];

/** The machine as it is turned: each shaft a disc with its chalk mark, turned as far as was counted. */
export function Machine({ counts, atAxle }: { counts: LiveCount[]; atAxle: boolean }) {
  const discs = atAxle ? axle : part;
  const marks = useRef(new Map<LiveShaft, SVGGElement>());
  useTurning(counts, marks.current);
  const seen = (s: LiveShaft) => counts.some((c) => c.shaft === s);
  return (
    <svg viewBox="0 0 640 190" className={classes.machine} role="img" aria-label={words(counts, atAxle)}>
      {atAxle ? (
        <path className={metal.tube} d="M108 88H258L280 62H360L382 88H532V100H382L360 126H280L258 100H108Z" />
      ) : (
        <path className={metal.tube} d="M200 88H280V52H360V136H280V100H200Z M360 88H440V100H360Z" />
      )}
      {discs.map((d) => (
        <g key={d.shaft} transform={`translate(${d.x} 94)`} className={seen(d.shaft) ? undefined : classes.unseen}>
          {d.shaft !== "shaft" && <circle r={d.r} className={metal.tire} />}
          <circle r={d.shaft === "shaft" ? d.r : d.r * 0.62} className={metal.disc} />
          <g
            ref={(g) => {
              if (g) marks.current.set(d.shaft, g);
            }}
          >
            {[0, 60, 120, 180, 240, 300].map((a) => (
              <circle
                key={a}
                r={d.r * 0.055}
                cx={0}
                cy={-d.r * 0.36}
                transform={`rotate(${a + 30})`}
                className={metal.bolt}
              />
            ))}
            <path d={`M0 ${-d.r * 0.12}V${-d.r * 0.97}`} className={metal.mark} />
          </g>
          <circle r={d.r * 0.1} className={metal.hub} />
        </g>
      ))}
    </svg>
  );
}

function words(counts: LiveCount[], atAxle: boolean): string {
  const turned = counts.map(
    (c) => `${atAxle || c.shaft !== "shaft" ? names[c.shaft] : "input"} ${c.turns.toFixed(2)} turns`,
  );
  return turned.length > 0 ? `The machine: ${turned.join(", ")}` : "The machine, not turned yet";
}

/** Longest that a disc is turned on after its last mark, in seconds. */
const ahead = 1;

/** Turns the discs between what comes: by the speed that each had. It goes past React. */
function useTurning(counts: LiveCount[], marks: Map<LiveShaft, SVGGElement>) {
  const still = useReducedMotion();
  const now = useRef<{ at: number; counts: LiveCount[] }>({ at: 0, counts: [] });
  const shown = useRef(new Map<LiveShaft, number>());
  now.current = { at: performance.now(), counts };
  useEffect(() => {
    let frame = 0;
    const draw = () => {
      for (const c of now.current.counts) {
        const since = Math.min((performance.now() - now.current.at) / 1000, ahead);
        const aim = c.turns + (still ? 0 : c.speed * since);
        const before = shown.current.get(c.shaft) ?? aim;
        const turns = still || Math.abs(aim - before) > 2 ? aim : before + (aim - before) * 0.35;
        shown.current.set(c.shaft, turns);
        marks.get(c.shaft)?.setAttribute("transform", `rotate(${(turns * 360) % 360})`);
      }
      frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [marks, still]);
}
