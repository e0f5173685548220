import { useQuery } from "@tanstack/react-query";
import { blocking } from "../api/blocking";
import { api, take } from "../api/client";
import { key } from "../api/keys";

/** A unit with its driveline, for the benches that work on one. */
export function useUnit(id: number) {
  const path = { params: { path: { id } } };
  const unit = useQuery({ queryKey: key.unit(id), queryFn: () => take(api.GET("/units/{id}", path)) });
  const line = useQuery({ queryKey: key.driveline(id), queryFn: () => take(api.GET("/units/{id}/driveline", path)) });
  return { unit: unit.data, line: line.data, error: blocking(unit, line) };
}
