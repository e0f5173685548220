import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type CardRun, type NewCardEntry, take } from "../../api/client";
import { key, unitChanged } from "../../api/keys";

/** Asked again by itself, so that two people at one card see each other's check-offs. */
const fresh = 5000;

/** A card that is being done, and what can be done at it. */
export function useRun(id: number) {
  const client = useQueryClient();
  const path = { params: { path: { id } } };
  const run = useQuery({
    queryKey: key.cardRun(id),
    queryFn: () => take(api.GET("/card-runs/{id}", path)),
    refetchInterval: (q) => (q.state.data?.closed_at ? false : fresh),
  });
  const put = (r: CardRun) => client.setQueryData(key.cardRun(id), r);
  const enter = useMutation({
    // The key is made once, so that sending again keeps it once.
    mutationFn: (body: NewCardEntry) => take(api.POST("/card-runs/{id}/entries", { ...path, body })),
    onSuccess: put,
    onError: () => void client.invalidateQueries({ queryKey: key.cardRun(id) }),
  });
  const close = useMutation({
    mutationFn: () => take(api.POST("/card-runs/{id}/close", path)),
    onSuccess: (r) => {
      put(r);
      unitChanged(client, r.unit_id);
      void client.invalidateQueries({ queryKey: key.cardRuns(r.unit_id) });
      void client.invalidateQueries({ queryKey: key.decisions(r.unit_id) });
    },
  });
  return { run, enter, close };
}

export const entryKey = () => crypto.randomUUID();

/** Where a card was left for a bench: the way back stands on top of every page. */
export type Away = { run: number; title: string; step: string } | null;
export const awayStore = "zorvel.card.away";
