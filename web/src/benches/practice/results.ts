import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, type DrillQuestion, type PracticeQuestion, type PracticeResult, Refused, take } from "../../api/client";
import { key } from "../../api/keys";
import { keep, useKept } from "../../app/local";
import { useSession } from "../../app/session";

/** One unit or card that was done: what was answered, and what it came to. */
export type Attempt = { key: string; result: PracticeResult; unit?: PracticeQuestion; card?: DrillQuestion };

const none: Attempt[] = [];
const nothing: PracticeResult[] = [];
/** As many as the server takes; older ones have told what they had to tell. */
const most = 2000;
const store = "zorvel.practice.done";

/** Today, as days since 1970 where the learner is. */
export const today = () => {
  const d = new Date();
  return Math.floor(Date.UTC(d.getFullYear(), d.getMonth(), d.getDate()) / 86_400_000);
};

/** A number for a unit that nobody has seen. */
export const freshSeed = () => crypto.getRandomValues(new Uint32Array(1))[0] ?? 1;

/** What a signed-in learner has saved. */
export function useOwnPractice() {
  const person = useSession().data?.person;
  return useQuery({
    queryKey: key.practice("own"),
    queryFn: () => take(api.GET("/practice")),
    enabled: Boolean(person),
  });
}

/** Adds what was done: it waits on this device, and goes to the account of who is signed in. */
export function useAddAttempt() {
  const [, set] = useKept<Attempt[]>(store, none);
  return (a: Attempt) => set((old) => (old.some((o) => o.key === a.key) ? old : [...old, a].slice(-most)));
}

/** All results, oldest first: those of the account, then those that wait on this device. */
export function useResults(): PracticeResult[] | undefined {
  const [waiting] = useKept<Attempt[]>(store, none);
  const person = useSession().data?.person;
  const own = useOwnPractice();
  useSending(waiting, Boolean(person));
  if (person && !own.data && !own.error) return undefined;
  return [...(own.data?.results ?? nothing), ...waiting.map((a) => a.result)].slice(-most);
}

/** Refused now, and not for good: signed out, not allowed, too fast. */
const later = [401, 403, 429];

/** Sends what waits, one after the other; what the server refuses for good is let go. */
function useSending(waiting: Attempt[], signedIn: boolean) {
  const client = useQueryClient();
  const [, set] = useKept<Attempt[]>(store, none);
  const busy = useRef(false);
  useEffect(() => {
    const [next] = waiting;
    if (!signedIn || !next || busy.current) return;
    busy.current = true;
    const drop = () => {
      set((old) => old.filter((o) => o.key !== next.key));
      if (waiting.length > 1) return;
      keep(store, undefined);
      void client.invalidateQueries({ queryKey: key.practice("own") });
    };
    const body = { key: next.key, day: next.result.day, unit: next.unit, card: next.card };
    take(api.POST("/practice/results", { body }))
      .then((saved) => {
        client.setQueryData<{ results: PracticeResult[]; shared: boolean }>(key.practice("own"), (old) =>
          old ? { ...old, results: [...old.results, saved] } : old,
        );
        busy.current = false;
        drop();
      })
      .catch((e) => {
        busy.current = false;
        if (e instanceof Refused && !later.includes(e.status) && e.status < 500) drop();
      });
  }, [waiting, signedIn, client, set]);
}
