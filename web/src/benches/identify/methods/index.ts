import type { Kind, Method, Reading } from "../../../api/client";
import type { Units } from "../../../format/numbers";
import { bench } from "./bench";
import type { Draft } from "./draft";
import { live } from "./live";
import type { MethodUI, Step } from "./method";
import { Reader } from "./reader";
import { road } from "./road";
import { stamp } from "./stamp";
import { tag } from "./tag";
import { teeth } from "./teeth";
import { turns } from "./turns";

/** All methods, in the order in which people try them. */
export const methods: Record<Method, MethodUI> = { tag, stamp, teeth, turns, bench, live, road };

/** The methods that fit a kind of stage. */
export function methodsFor(kind: Kind): Method[] {
  return (Object.keys(methods) as Method[]).filter((m) => methods[m].fits(kind));
}

/** How a reading is taken; blind, the others stay hidden. */
export function stepsFor(method: Method, kind: Kind, blind: boolean): Step[] {
  const guess = blind ? [{ text: "Earlier readings stay hidden until you save this one. Read what is there." }] : [];
  return [...methods[method].steps(kind), ...guess];
}

/** A typed draft as a reading, or what is still missing, or which fields aren't numbers. */
export type Understood = { reading?: Reading; notNumbers: Record<string, string>; missing: Record<string, string> };

export function readDraft(method: Method, d: Draft, members: string[], units: Units): Understood {
  const r = new Reader();
  const reading: Reading = { method, ...methods[method].read(d, r, members, units) };
  const ok = Object.keys(r.missing).length === 0 && Object.keys(r.notNumbers).length === 0;
  return { reading: ok ? reading : undefined, notNumbers: r.notNumbers, missing: r.missing };
}
