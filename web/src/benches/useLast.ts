import { useQuery } from "@tanstack/react-query";
import { api, type Decision, take } from "../api/client";
import { key } from "../api/keys";

/** The newest record of a kind that a unit has, with its question. */
export function useLast(unit: number | undefined, kind: Decision["kind"]): Decision | undefined {
  const list = useQuery({
    queryKey: key.decisions(unit),
    queryFn: () => take(api.GET("/units/{id}/decisions", { params: { path: { id: unit ?? 0 } } })),
    enabled: unit !== undefined,
  });
  const id = list.data?.find((d) => d.kind === kind)?.id;
  const one = useQuery({
    queryKey: key.decision(id),
    queryFn: () => take(api.GET("/decisions/{id}", { params: { path: { id: id ?? 0 } } })),
    enabled: id !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return one.data;
}
