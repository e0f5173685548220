import type { StageSummary, Unit } from "../api/client";

/** The ratios that gears are ordered by. */
const leading = ["ring_and_pinion", "two_stage", "gearcase"];

/** What is open on a unit: contradictions first, then what isn't sure, then what nobody measured. */
export function openStages(unit: Unit): StageSummary[] {
  const present = unit.stages.filter((s) => s.present);
  return [
    ...present.filter((s) => s.state === "conflict" || s.trouble),
    ...present.filter((s) => s.state === "assumed"),
    ...present.filter((s) => s.state === "unknown" && !s.trouble && leading.includes(s.question.kind)),
  ];
}
