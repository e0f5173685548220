import type { Method, Reading, Shaft } from "../../api/client";
import { toKMH, toMM, typed, type Units } from "../../format/numbers";

/** What has been typed so far, as typed; kept on this device until it is committed. */
export type DraftShaft = {
  whole: string;
  how: "eye" | "arc" | "words";
  fraction: number;
  short: boolean;
  arc: string;
  rim: string;
  rimIs: "circumference" | "diameter";
  words: string;
};

export type Draft = {
  text: string;
  teeth: Record<string, string>;
  wheels: "both" | "one" | "each";
  wheelTurns: string;
  /** What is known of the other wheel: asked, never taken for granted. */
  other: "" | "seen" | "assumed";
  left: string;
  right: string;
  output: string;
  outputs: "single" | "joined" | "one_held";
  shaft: DraftShaft;
  rpm: string;
  speed: string;
  rolling: string;
  others: string[];
  converter: "clutch" | "locked" | "open";
  note: string;
};

export const blankShaft: DraftShaft = {
  whole: "",
  how: "eye",
  fraction: 0,
  short: false,
  arc: "",
  rim: "",
  rimIs: "circumference",
  words: "",
};

export const blankDraft: Draft = {
  text: "",
  teeth: {},
  wheels: "both",
  wheelTurns: "1",
  other: "",
  left: "",
  right: "",
  output: "1",
  outputs: "single",
  shaft: blankShaft,
  rpm: "",
  speed: "",
  rolling: "",
  others: ["1", "1"],
  converter: "locked",
  note: "",
};

/** A typed draft as a reading, or what is still missing, or which fields aren't numbers. */
export type Understood = { reading?: Reading; notNumbers: Record<string, string>; missing: Record<string, string> };

const notNumber = "a number is expected, for example 4 or 4.5";

class Reader {
  notNumbers: Record<string, string> = {};
  missing: Record<string, string> = {};
  number(field: string, s: string, ask = "Enter a number"): number {
    const n = typed(s);
    if (n === undefined) this.missing[field] = ask;
    else if (Number.isNaN(n)) this.notNumbers[field] = notNumber;
    return n ?? 0;
  }
  whole(field: string, s: string, ask = "Enter a whole number"): number {
    const n = this.number(field, s, ask);
    if (!Number.isNaN(n) && !Number.isInteger(n)) this.notNumbers[field] = "a whole number is expected";
    if (Math.abs(n) > 1e6) this.notNumbers[field] = "this is too large to have been counted";
    return n;
  }
}

function readShaft(d: DraftShaft, path: string, units: Units, r: Reader): Shaft {
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
  const bare = d.fraction === 0.25 || d.fraction === 0.5 || d.fraction === 0.75;
  return { whole, remainder: { by: bare ? "quarter" : "eye", fraction: d.fraction, short: d.short } };
}

export function readDraft(method: Method, d: Draft, members: string[], units: Units): Understood {
  const r = new Reader();
  let reading: Reading = { method };
  switch (method) {
    case "tag":
    case "stamp":
      if (!d.text.trim()) r.missing.text = "Enter what it says";
      reading = { method, text: d.text };
      break;
    case "teeth": {
      const teeth: Record<string, number> = {};
      for (const m of members) if (d.teeth[m]?.trim()) teeth[m] = r.whole(`teeth/${m}`, d.teeth[m]);
      if (Object.keys(teeth).length === 0) r.missing.teeth = "Enter the teeth of at least one gear";
      reading = { method, teeth };
      break;
    }
    case "turns": {
      const shaft = readShaft(d.shaft, "turns/shaft", units, r);
      if (d.wheels === "each") {
        const ask = "Enter this wheel's turns; 0 if it was held";
        const left = r.number("turns/left/turns", d.left, ask);
        const right = r.number("turns/right/turns", d.right, ask);
        reading = { method, turns: { left: { turns: left, seen: true }, right: { turns: right, seen: true }, shaft } };
        break;
      }
      const n = r.number("turns/left/turns", d.wheelTurns);
      if (d.other !== "seen" && d.other !== "assumed")
        r.missing["turns/right/seen"] = "Say whether somebody watched it";
      reading = {
        method,
        turns: {
          left: { turns: n, seen: true },
          right: { turns: d.wheels === "both" ? n : 0, seen: d.other === "seen" },
          shaft,
        },
      };
      break;
    }
    case "bench":
      reading = {
        method,
        bench: {
          output_turns: r.number("bench/output_turns", d.output),
          outputs: d.outputs,
          shaft: readShaft(d.shaft, "bench/shaft", units, r),
        },
      };
      break;
    case "road":
      reading = {
        method,
        road: {
          rpm: r.number("road/rpm", d.rpm),
          speed_kmh: toKMH(r.number("road/speed_kmh", d.speed), units),
          rolling_mm: toMM(r.number("road/rolling_mm", d.rolling), units),
          others: d.others.filter((o) => o.trim()).map((o, i) => r.number(`road/others/${i}`, o)),
          converter: d.converter,
        },
      };
  }
  const ok = Object.keys(r.missing).length === 0 && Object.keys(r.notNumbers).length === 0;
  return { reading: ok ? reading : undefined, notNumbers: r.notNumbers, missing: r.missing };
}
