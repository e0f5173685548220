import { api, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
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
  return { board: answer ?? last, results: question, error };
}
