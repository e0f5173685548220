import type { Experience } from "../api/client";

export type ExperienceShop = Experience["own"];

export const many = (n: number, one: string, more: string) => `${n.toLocaleString()} ${n === 1 ? one : more}`;

/** What a file holds, in words. */
export function holds(s: ExperienceShop) {
  const parts = [
    s.counted > 0 && `${many(s.counted, "housing", "housings")} with ${many(s.sets, "gear set", "gear sets")} counted`,
    s.proved > 0 && `${many(s.proved, "fault", "faults")} proved`,
    s.housings > 0 && `${many(s.housings, "set-up", "set-ups")}`,
  ].filter(Boolean);
  return parts.length > 0 ? parts.join(", ") : "nothing yet";
}
