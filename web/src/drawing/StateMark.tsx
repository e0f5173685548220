import type { StageSummary } from "../api/client";
import { stateWords } from "../format/words";

/** How each state is drawn besides its color. */
export const stateSigns = { measured: "✓", assumed: "≈", conflict: "≠", unknown: "?" } as const;

export function StateMark({ state }: { state: StageSummary["state"] }) {
  return (
    <span className={`state state-${state}`}>
      <i aria-hidden="true">{stateSigns[state]}</i> {stateWords[state]}
    </span>
  );
}
