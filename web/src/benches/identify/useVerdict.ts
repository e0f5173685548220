import { api, type Order, type Question, type Reading, type Situation, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";

type Input = { stage: Question; readings: Reading[]; situation: Situation; order?: Order; candidates?: number };

const weigh = (body: Input, signal: AbortSignal) =>
  take(api.POST("/calc/identify", { body: { ...body, prior: "shop" }, signal }));

/** The verdict on readings, from the server; the last one stays while the next is under way. */
export const useVerdict = (input: Input, ready = true) => useCalc(key.identify, input, weigh, { ready, rest: 120 });
