import { SegmentedControl } from "@mantine/core";
import { type KeyboardEvent, useId, useState } from "react";
import type { PracticeGear } from "../../api/client";
import metal from "../../drawing/shafts.module.css";
import classes from "./practice.module.css";

const reach = 7; // teeth to either side that the opening shows

/** Dirt and wear of a tooth, the same each time it comes round. */
const worn = (seed: number, tooth: number) => {
  let h = (seed ^ (tooth * 2654435761)) >>> 0;
  h = Math.imul(h ^ (h >>> 15), 2246822519) >>> 0;
  return (h >>> 8) / 2 ** 24;
};

/** The gears through the opening: one tooth after the other passes the pointer. */
export function TurningGears({ gears }: { gears: PracticeGear[] }) {
  const [member, setMember] = useState(gears[0]?.member ?? "");
  const [at, setAt] = useState<Record<string, number>>({});
  const id = useId();
  const g = gears.find((x) => x.member === member) ?? gears[0];
  if (!g) return null;
  const place = at[g.member] ?? 0;
  const turn = (by: number) => setAt({ ...at, [g.member]: place + by });
  const key = (e: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
    if (!by) return;
    e.preventDefault();
    turn(by);
  };
  const first = Math.floor(place) - reach;
  return (
    <section className={classes.opening} aria-label="Through the opening">
      <SegmentedControl
        aria-label="Which gear"
        value={g.member}
        onChange={setMember}
        data={gears.map((x) => ({ value: x.member, label: x.name }))}
      />
      <svg viewBox="0 0 640 130" role="img" aria-label={`Teeth of the ${g.name}`} aria-describedby={id}>
        <defs>
          <clipPath id={`${id}c`}>
            <rect x="10" y="8" width="620" height="114" rx="18" />
          </clipPath>
        </defs>
        <rect x="10" y="8" width="620" height="114" rx="18" className={classes.hole} />
        <g clipPath={`url(#${id}c)`}>
          <path d="M0 96H640V130H0Z" className={classes.rimMetal} />
          {Array.from({ length: 2 * reach + 2 }, (_, i) => first + i).map((n) => {
            const tooth = ((n % g.teeth) + g.teeth) % g.teeth;
            const x = 320 + (n - place) * 44;
            const dirt = worn(g.worn, tooth);
            return (
              <g key={n} transform={`translate(${x.toFixed(1)} 0)`}>
                <path d="M-16 98L-9 44H9L16 98Z" className={classes.toothMetal} style={{ opacity: 0.6 + 0.4 * dirt }} />
                {dirt > 0.8 && <circle cy={62} r={5} className={classes.dirt} />}
                {dirt < 0.12 && <path d="M-8 52L6 58" className={classes.scratch} />}
                {tooth === 0 && g.marked && <path d="M0 46V92" className={metal.mark} />}
              </g>
            );
          })}
          <path d="M320 14V36M312 28L320 38L328 28" className={classes.pointer} />
        </g>
      </svg>
      <div className={classes.passing}>
        <button type="button" onClick={() => turn(-1)}>
          Back one tooth
        </button>
        <button type="button" onClick={() => turn(1)} onKeyDown={key} data-part="pass">
          Next tooth
        </button>
      </div>
      <p id={id} className={classes.hint}>
        {g.marked
          ? "The start tooth is chalked: it is zero, and counts once, as the last."
          : "No tooth is chalked yet: without a mark, nobody knows where he began."}
      </p>
    </section>
  );
}
