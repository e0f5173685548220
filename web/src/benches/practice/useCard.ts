import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, type DrillAnswer, type DrillMarked, Refused, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { freshSeed, today, useAddAttempt } from "./results";

/** A card of a drill and its answer; what it came to goes into the learner's results. */
export function useCard(drill: string, level: number, onMarked: (m: DrillMarked) => void) {
  const [seed, setSeed] = useState(freshSeed);
  const [marked, setMarked] = useState<DrillMarked>();
  const [tried, setTried] = useState(false); // a second try at a card counts for nothing
  const add = useAddAttempt();
  const { answer: dealt, error } = useCalc(
    key.practiceCard,
    { drill, level, seed },
    (q, signal) => take(api.POST("/calc/practice/drill", { body: q, signal })),
    { rest: 0, keep: false },
  );
  const said = useMutation({
    mutationFn: (answer: DrillAnswer) =>
      take(api.POST("/calc/practice/drill", { body: { drill, level, seed, answer } })),
    onSuccess: ({ card }, answer) => {
      const m = card.marked;
      if (!m) return;
      setMarked(m);
      if (tried) return;
      add({
        key: crypto.randomUUID(),
        card: { drill, level, seed, answer },
        result: { what: drill, level, seed, day: today(), points: m.points, right: m.right, off: m.off },
      });
      onMarked(m);
    },
  });
  return {
    card: dealt?.card,
    image: dealt?.image,
    marked,
    error,
    refused: said.error instanceof Refused ? said.error : undefined,
    answer: said.mutate,
    again: () => {
      setMarked(undefined);
      setTried(true);
    },
    next: () => {
      setTried(false);
      setMarked(undefined);
      said.reset();
      setSeed(freshSeed());
    },
  };
}
