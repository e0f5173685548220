import { api, type Doc, type DrivelineState, take } from "../api/client";
import { key } from "../api/keys";
import { useCalc } from "../api/useCalc";

export type Want = { gears?: boolean; shifts?: boolean; tests?: boolean; speed_kmh?: number };

/** The trace of a driveline in a state; the last good one stays while another is asked. */
export function useTrace(doc: Doc | undefined, state: DrivelineState, want: Want = {}) {
  const { last, error, refused } = useCalc(
    key.trace,
    { driveline: doc, state, want },
    (body, signal) => take(api.POST("/calc/driveline", { body, signal })),
    { ready: Boolean(doc), rest: 0 },
  );
  return { trace: last?.trace, error, refused };
}
