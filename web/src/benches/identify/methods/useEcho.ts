import { api, type Question, take } from "../../../api/client";
import { key } from "../../../api/keys";
import { useCalc } from "../../../api/useCalc";

type Said = { text: string; as: "mark" | "talk" | "shaft"; stage: Question };

/** What the program understood of words, once the typing rests. */
export const useEcho = (q: Said, ready: boolean) =>
  useCalc(key.echo, q, (body, signal) => take(api.POST("/calc/echo", { body, signal })), {
    ready,
    rest: 200,
    keep: false,
  });
