import type { DrillQuestion, PracticeQuestion, PracticeResult } from "../../api/client";
import { useKept } from "../../app/local";

/** One unit or card that was done: what was answered, and what it came to. */
export type Attempt = { key: string; result: PracticeResult } & (
  | { unit: PracticeQuestion; card?: undefined }
  | { card: DrillQuestion; unit?: undefined }
);

const none: Attempt[] = [];
/** As many as the server takes; older ones have told what they had to tell. */
const most = 2000;

/** Today, as days since 1970 where the learner is. */
export const today = () => {
  const d = new Date();
  return Math.floor(Date.UTC(d.getFullYear(), d.getMonth(), d.getDate()) / 86_400_000);
};

/** A number for a unit that nobody has seen. */
export const freshSeed = () => crypto.getRandomValues(new Uint32Array(1))[0] ?? 1;

/** What was done on this device, oldest first. */
export function useAttempts() {
  const [list, set] = useKept<Attempt[]>("zorvel.practice.done", none);
  const add = (a: Attempt) => set((old) => (old.some((o) => o.key === a.key) ? old : [...old, a].slice(-most)));
  return { list, add };
}
