import type { Kind, Method, Reading } from "../../../api/client";
import type { Units } from "../../../format/numbers";
import { bench } from "./bench";
import { type MethodUI, Reader, type Step } from "./method";
import { road } from "./road";
import { blankShaft, type DraftShaft } from "./shaft";
import { stamp } from "./stamp";
import { tag } from "./tag";
import { teeth } from "./teeth";
import { turns } from "./turns";

/** All methods, in the order in which people try them. */
export const methods: Record<Method, MethodUI> = { tag, stamp, teeth, turns, bench, road };

/** The methods that fit a kind of stage. */
export function methodsFor(kind: Kind): Method[] {
  return (Object.keys(methods) as Method[]).filter((m) => methods[m].fits(kind));
}

/** How a reading is taken; blind, the others stay hidden. */
export function stepsFor(method: Method, kind: Kind, blind: boolean): Step[] {
  const guess = blind ? [{ text: "Earlier readings stay hidden until you keep this one. Read what is there." }] : [];
  return [...methods[method].steps(kind), ...guess];
}

/** What has been typed so far, as typed; kept on this device until it is committed. */
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

export function readDraft(method: Method, d: Draft, members: string[], units: Units): Understood {
  const r = new Reader();
  const reading: Reading = { method, ...methods[method].read(d, r, members, units) };
  const ok = Object.keys(r.missing).length === 0 && Object.keys(r.notNumbers).length === 0;
  return { reading: ok ? reading : undefined, notNumbers: r.notNumbers, missing: r.missing };
}
