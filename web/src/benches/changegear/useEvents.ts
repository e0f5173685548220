import { useQueries, useQuery } from "@tanstack/react-query";
import { api, type ChangeGearsEvent, take } from "../../api/client";
import { key } from "../../api/keys";

type Logged = {
  event: ChangeGearsEvent;
  logged: { overall: { label: string }; off_percent?: number; kmh?: number; text: string };
};

/** How many of the newest sessions are shown in full. */
const shown = 20;

/** The unit's sessions at tracks, newest first. */
export function useEvents(unit?: number) {
  const list = useQuery({
    queryKey: key.decisions(unit),
    queryFn: () => take(api.GET("/units/{id}/decisions", { params: { path: { id: unit ?? 0 } } })),
    enabled: unit !== undefined,
  });
  const events = (list.data ?? []).filter((d) => d.kind === "event").slice(0, shown);
  const full = useQueries({
    queries: events.map((e) => ({
      queryKey: key.decision(e.id),
      queryFn: () => take(api.GET("/decisions/{id}", { params: { path: { id: e.id } } })),
      staleTime: Number.POSITIVE_INFINITY,
    })),
  });
  return full.flatMap((q) =>
    q.data ? [{ id: q.data.id, at: q.data.at, by: q.data.by, ...(q.data.answer as unknown as Logged) }] : [],
  );
}

export type LoggedEvent = ReturnType<typeof useEvents>[number];
