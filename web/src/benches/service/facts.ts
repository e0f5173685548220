import type { JobFacts } from "../../api/client";

/** What else is asked when a job comes in, beside the complaint: every fact of the contract. */
export const facts: { [name in keyof Required<JobFacts>]: { label: string; maxLength: number } } = {
  customer: { label: "Owner", maxLength: 200 },
};

export const factNames = Object.keys(facts) as (keyof JobFacts)[];

/** A job's facts in one line; empty where nothing was told. */
export const factLine = (job: JobFacts) =>
  factNames.flatMap((name) => (job[name] ? `${facts[name].label}: ${job[name]}. ` : [])).join("");
