import type { FaultEvidence, FaultGiven, FaultTest } from "../../api/client";

/** Something that was told or tried, as evidence. */
export type Done = { title: string; what: string; evidence: FaultEvidence[] };

/** Tells one test from another. */
export const testID = (t: FaultTest) => [t.title, ...t.setup].join("|");

/** A test as one that can be made here. */
export const givenOf = (t: FaultTest): FaultGiven => (t.sign ? { sign: t.sign, part: t.part } : { state: t.state });

/** What an outcome is as evidence. */
export const evidenceOf = (t: FaultTest, o: FaultTest["outcomes"][number]): FaultEvidence =>
  t.sign ? { sign: t.sign, part: t.part, says: o.says } : { state: t.state, seen: o.seen };
