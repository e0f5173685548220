import { useEffect } from "react";
import { api, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { keep } from "../../app/local";
import { today, useResults } from "./results";

/** What is open, mastered and due after all that was done. */
export function useBoard() {
  const results = useResults();
  const question = { results: results ?? [], day: today() };
  const { answer, last, error } = useCalc(
    key.practiceBoard,
    question,
    (q, signal) => take(api.POST("/calc/practice/board", { body: q, signal })),
    { rest: 0, ready: results !== undefined },
  );
  const eye = answer?.eye;
  useEffect(() => {
    // Offered where a partial turn is read; nothing reckons with it unasked.
    if (eye) keep("zorvel.practice.eye", { bias: eye.bias, spread: Math.max(0.01, eye.spread), cards: eye.cards });
  }, [eye]);
  return { board: answer ?? last, results: question, error };
}
