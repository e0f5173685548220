import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSettled } from "../app/settled";
import { Refused } from "./client";

type Ways = {
  /** False while too little is entered to ask at all. */
  ready?: boolean;
  /** Milliseconds that the typing has to pause before it is asked. */
  rest?: number;
  /** What else tells one question from another. */
  about?: unknown;
  /** False where the answer to the former question must not stand beside the new one. */
  keep?: boolean;
};

/**
 * Asks for a calculation as soon as the question rests. The last good answer stays while another is asked; a refusal
 * takes it away and names the fields; a server out of reach is asked again by itself. What nobody waits for any more is
 * given up, here and at the server.
 */
export function useCalc<Q, A>(
  named: (...about: unknown[]) => unknown[],
  question: Q,
  ask: (q: Q, signal: AbortSignal) => Promise<A>,
  { ready = true, rest = 300, about, keep = true }: Ways = {},
) {
  const typed = useSettled(rest === 0 ? undefined : question, rest);
  const { value: q, settled } = rest === 0 ? { value: question, settled: true } : { ...typed, value: typed.value as Q };
  const query = useQuery({
    queryKey: about === undefined ? named(q) : named(q, about),
    queryFn: ({ signal }) => ask(q, signal),
    enabled: ready && settled,
    placeholderData: keep ? keepPreviousData : undefined,
    staleTime: 60_000,
    gcTime: 60_000,
    retry: (n, e) => !(e instanceof Refused) && n < 5,
  });
  const error = ready ? (query.error ?? query.failureReason) : null;
  const [last, setLast] = useState<A>();
  if (query.data !== undefined && query.data !== last) setLast(query.data);
  return {
    answer: ready && !error ? query.data : undefined,
    /** The last good answer, whatever came after it. */
    last,
    refused: error instanceof Refused ? error : undefined,
    error,
    asking: query.isFetching,
  };
}
