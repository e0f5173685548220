import type { Question, Reading } from "../../api/client";
import type { components } from "../../api/schema";

/** A reading on a bench, kept by the server or waiting on this device. */
export type BenchReading = {
  key: string;
  /** The server's number; absent while it waits on this device. */
  id?: number;
  reading: Reading;
  summary?: string;
  by?: string;
  at: string;
  note?: string;
  blind?: boolean;
  struck?: { by?: string; at: string; reason: string };
  takenIn?: components["schemas"]["TakenIn"];
  /** Taken before another part or other gears were fitted. */
  former?: boolean;
  /** What was fitted last when it was taken, while it waits on this device. */
  since?: number;
  refused?: string;
};

let last = 0;

/** A key that no other reading has, so that sending it twice stores it once. */
export function newKey(): string {
  last = Math.max(last + 1, Date.now());
  const random = crypto.getRandomValues(new Uint32Array(2));
  return `${last.toString(36)}-${random[0].toString(36)}${random[1].toString(36)}`;
}

/** Names a bench that belongs to no unit yet, by its question. */
export const benchStore = (q: Question) =>
  `zorvel.bench.${q.kind}.${q.position ?? ""}.${q.held ?? ""}.${q.input ?? ""}`;
