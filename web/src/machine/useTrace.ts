import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { api, type Doc, type DrivelineState, Refused, type Trace, take } from "../api/client";
import { key } from "../api/keys";

export type Want = { gears?: boolean; shifts?: boolean; tests?: boolean; speed_kmh?: number };

/** The trace of a driveline in a state; the last good one stays while another is asked. */
export function useTrace(doc: Doc | undefined, state: DrivelineState, want: Want = {}) {
  const q = useQuery({
    queryKey: key.trace(doc, state, want),
    queryFn: () => take(api.POST("/calc/driveline", { body: { driveline: doc, state, want } })),
    enabled: Boolean(doc),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    gcTime: 60_000,
  });
  const last = useRef<Trace>(undefined);
  if (q.data?.trace) last.current = q.data.trace;
  const trace = last.current;
  return { trace, error: q.error, refused: q.error instanceof Refused ? q.error : undefined };
}
