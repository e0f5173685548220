import { useDebouncedValue } from "@mantine/hooks";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import {
  api,
  type Order,
  type Question,
  type Reading,
  Refused,
  type Situation,
  take,
  type Verdict,
} from "../../api/client";
import { key } from "../../api/keys";

type Input = { stage: Question; readings: Reading[]; situation: Situation; order?: Order; candidates?: number };

const weigh = (body: Input) => take(api.POST("/calc/identify", { body: { ...body, prior: "shop" } }));

/** The verdict on readings, from the server; the last one stays while the next is under way. */
export function useVerdict(input: Input, enabled = true) {
  const [settled] = useDebouncedValue(input, 120);
  return useQuery<Verdict>({
    queryKey: key.identify(settled),
    queryFn: () => weigh(settled),
    enabled,
    placeholderData: keepPreviousData,
    retry: (n, e) => !(e instanceof Refused) && n < 5,
    staleTime: 60_000,
  });
}
