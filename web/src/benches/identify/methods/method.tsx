import type { ComponentType, ReactNode } from "react";
import type { Kind, Method, Question, Reading, Verdict } from "../../../api/client";
import type { Units } from "../../../format/numbers";
import type { Draft } from "./draft";
import type { Reader } from "./reader";

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
  /** What all readings say with the one being taken; nothing while it is taken blind. */
  verdict?: Verdict;
  blind: boolean;
  /** Goes on with another method, its card prepared. */
  onMethod: (m: Method, prepare: Partial<Draft>) => void;
};

/** A method of taking a reading, with all that tells it from the others on screen. */
export type MethodUI = {
  name: string;
  /** What is counted at its shaft, where one is turned. */
  counts?: string;
  /** Read off, not counted: no other reading can lead the eye, so it is never taken blind. */
  readOff?: true;
  fits: (kind: Kind) => boolean;
  steps: (kind: Kind) => Step[];
  /** What was typed, as a reading without its method. */
  read: (d: Draft, r: Reader, members: string[], units: Units) => Omit<Reading, "method">;
  /** Whether it is under way: then its picture makes room. */
  underWay?: (d: Draft) => boolean;
  /** Done once a reading by it was saved. */
  kept?: (r: Reading) => void;
  /** What a saved reading can be looked at by again. */
  evidence?: (r: Reading) => ReactNode;
  Fields: ComponentType<FieldsProps>;
  /** Where to mark and what to turn. */
  picture: (kind: Kind) => ReactNode;
};

export const atAxle = (kind: Kind) => kind === "ring_and_pinion" || kind === "two_stage";

/** Words in a picture. */
export const note = (x: number, y: number, text: string, anchor: "start" | "middle" | "end" = "start") => (
  <text x={x} y={y} textAnchor={anchor}>
    {text}
  </text>
);

export const turnArrow = (x: number, y: number, r: number) => (
  <path d={`M${x - r} ${y}A${r} ${r} 0 1 1 ${x} ${y + r}m0 0l7 -5m-7 5l7 6`} className="arrow" />
);
