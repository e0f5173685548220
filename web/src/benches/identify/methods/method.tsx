import type { ComponentType, ReactNode } from "react";
import type { Kind, Question, Reading } from "../../../api/client";
import { typed, type Units } from "../../../format/numbers";
import type { Draft } from ".";

/** A step of how a reading is taken. */
export type Step = { text: string; caution?: string };

/** What a method's fields are given. */
export type FieldsProps = {
  question: Question;
  draft: Draft;
  set: (v: Partial<Draft>) => void;
  members: string[];
  units: Units;
  error: (field: string) => string | undefined;
  onCount: (target: string) => void;
};

/** A method of taking a reading, with all that tells it from the others on screen. */
export type MethodUI = {
  name: string;
  /** What is counted at its shaft, where one is turned. */
  counts?: string;
  fits: (kind: Kind) => boolean;
  steps: (kind: Kind) => Step[];
  /** What was typed, as a reading without its method. */
  read: (d: Draft, r: Reader, members: string[], units: Units) => Omit<Reading, "method">;
  Fields: ComponentType<FieldsProps>;
  /** Where to mark and what to turn. */
  picture: (kind: Kind) => ReactNode;
};

export const atAxle = (kind: Kind) => kind === "ring_and_pinion" || kind === "two_stage";

const notNumber = "a number is expected, for example 4 or 4.5";

/** Reads what was typed, and remembers what is missing or no number. */
export class Reader {
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

/** Words in a picture. */
export const note = (x: number, y: number, text: string, anchor: "start" | "middle" | "end" = "start") => (
  <text x={x} y={y} textAnchor={anchor}>
    {text}
  </text>
);

export const turnArrow = (x: number, y: number, r: number) => (
  <path d={`M${x - r} ${y}A${r} ${r} 0 1 1 ${x} ${y + r}m0 0l7 -5m-7 5l7 6`} className="arrow" />
);
