import type { JobState, ServiceDue } from "../../api/client";

/** How a job stands, in the order of the work. */
export const jobStates: { value: JobState; label: string }[] = [
  { value: "waiting", label: "waiting" },
  { value: "on_stands", label: "on the lift" },
  { value: "measured", label: "measured" },
  { value: "decided", label: "estimate" },
  { value: "parts_ordered", label: "waiting for parts" },
];

export const stateWords = (s: JobState) => jobStates.find((x) => x.value === s)?.label ?? s;

/** A mark and a word for how urgent it is; the word tells it without color. */
export const dueMarks: Record<string, [string, string]> = {
  overdue: ["!", "overdue"],
  soon: ["△", "due soon"],
  unknown: ["?", "not on record"],
  later: ["·", "not due yet"],
};

export const dueName = (d: ServiceDue) => [d.what, d.name].filter(Boolean).join(", ");

/** A key of its own, so that what is sent twice is kept once. */
export const entryKey = () => crypto.randomUUID();

export const hours = (minutes: number) => `${(minutes / 60).toFixed(1)} h`;
