import type { Tire } from "../../api/client";
import { toMM, typed, type Units } from "../../format/numbers";

/** What was typed of a tire; text until the server reads it. */
export type TireForm = {
  marking: string;
  rollout: string;
  turns: string;
  revs: string;
  mass: string;
  use: string;
  construction?: "radial" | "bias" | "";
};
export const noTire: TireForm = { marking: "", rollout: "", turns: "", revs: "", mass: "", use: "" };

/** A figure as the server takes it: a point for a decimal comma, nothing where nothing was typed. */
export const figure = (s: string) => s.trim().replace(",", ".") || undefined;

/** A number, or one that the server will refuse at its field. */
export function number(s: string, change: (v: number) => number = (v) => v): number | undefined {
  const v = typed(s);
  if (v === undefined) return undefined;
  return Number.isNaN(v) ? -1e9 : change(v);
}

export const length = (s: string, units: Units) => {
  const v = typed(s);
  return v === undefined || Number.isNaN(v) ? figure(s) : String(toMM(v, units));
};

export function tireOf(t: TireForm, units: Units): Tire {
  const turns = typed(t.turns);
  return {
    marking: t.marking.trim() || undefined,
    rollout_mm: length(t.rollout, units),
    rollout_turns: turns === undefined || Number.isNaN(turns) ? undefined : Math.round(turns),
    ...(units === "inch" ? { revs_per_mile: figure(t.revs) } : { revs_per_km: figure(t.revs) }),
    mass_kg: number(t.mass),
    use: t.use || undefined,
    construction: t.construction || undefined,
  };
}
