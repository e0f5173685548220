import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type CardRun, type NewCardEntry, take } from "../../api/client";
import { askAnew, key } from "../../api/keys";
import { submit, useWaiting } from "../../app/outbox";

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
    mutationFn: (body: NewCardEntry) => {
      const r = run.data;
      const step = r?.sheet.steps.find((x) => x.id === body.step)?.do ?? body.step;
      return submit<CardRun>({
        key: body.key,
        says: `${step} (${r?.title ?? "a work card"}, ${r?.unit_name ?? ""})`,
        post: { to: "step", run: id, entry: body },
      });
    },
    onSuccess: (r) => r && put(r),
    onError: () => askAnew(client, "cardRun", id),
  });
  const close = useMutation({
    mutationFn: () => take(api.POST("/card-runs/{id}/close", path)),
    onSuccess: (r) => {
      put(r);
      askAnew(client, "unit", r.unit_id);
      askAnew(client, "cardRuns", r.unit_id);
    },
  });
  const waiting = useWaiting().flatMap((w) => (w.post.to === "step" && w.post.run === id ? [w.post.entry] : []));
  return { run, enter, close, waiting };
}

export const entryKey = () => crypto.randomUUID();

/** Where a card was left for a bench: the way back stands on top of every page. */
export type Away = { run: number; title: string; step: string } | null;
export const awayStore = "zorvel.card.away";
