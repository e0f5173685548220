import type { Shaft } from "../../../api/client";
import { toMM, typed, type Units } from "../../../format/numbers";
import type { DraftShaft } from "./draft";
import type { Reader } from "./reader";

/** Whole turns typed with a part of one, "3 3/4" or "3.75", as both. */
export function parted(d: DraftShaft): DraftShaft {
  const n = typed(d.whole);
  if (d.how !== "eye" || n === undefined || !(n >= 0) || Number.isInteger(n)) return d;
  const whole = Math.floor(n);
  return { ...d, whole: String(whole), fraction: Math.round((n - whole) * 1000) / 1000, short: false };
}

/** A shaft as typed, as the contract has it; path names it in what is refused. */
export function readShaft(given: DraftShaft, path: string, units: Units, r: Reader): Shaft {
  const d = parted(given);
  if (d.how === "words") {
    if (!d.words.trim()) r.missing[`${path}/words`] = 'Say the turns, for example "4 and a bit"';
    return { words: d.words };
  }
  const whole = r.whole(`${path}/whole`, d.whole, "Enter the whole turns; 0 if less than one");
  if (d.how === "arc") {
    return {
      whole,
      remainder: {
        by: "arc",
        arc_mm: toMM(r.number(`${path}/remainder/arc_mm`, d.arc), units),
        rim_mm: toMM(r.number(`${path}/remainder/rim_mm`, d.rim), units),
        rim_is: d.rimIs,
        short: d.short,
      },
    };
  }
  if (d.fraction === 0) return { whole, remainder: { by: "none" } };
  if (d.eye) return { whole, remainder: { by: "eye", fraction: d.fraction, short: d.short, eye: d.eye } };
  const bare = d.fraction === 0.25 || d.fraction === 0.5 || d.fraction === 0.75;
  return { whole, remainder: { by: bare ? "quarter" : "eye", fraction: d.fraction, short: d.short } };
}
