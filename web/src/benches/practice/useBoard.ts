import { api, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { today, useAttempts } from "./results";

/** What is open, mastered and due after all that was done. */
export function useBoard() {
  const { list } = useAttempts();
  const question = { results: list.map((a) => a.result), day: today() };
  const { answer, last, error } = useCalc(
    key.practiceBoard,
    question,
    (q, signal) => take(api.POST("/calc/practice/board", { body: q, signal })),
    { rest: 0, about: list.length },
  );
  return { board: answer ?? last, error };
}
