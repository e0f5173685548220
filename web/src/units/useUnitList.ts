import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, take, type UnitQuery } from "../api/client";
import { key } from "../api/keys";

/** Units on a page of the list. */
export const perPage = 50;

/** What the list's address says, as the server is asked. What it can't mean is left out. */
export function asked(q: URLSearchParams): UnitQuery {
  const one = <T extends string>(name: string, of: readonly T[]) => of.find((v) => v === q.get(name));
  const page = Number(q.get("page"));
  return {
    search: q.get("search")?.trim().slice(0, 100) || undefined,
    kind: one("kind", ["truck", "van", "car", "boat", "part", "other"]),
    state: one("state", ["unknown", "assumed", "measured", "conflict"]),
    ratio: q.get("ratio")?.slice(0, 20) || undefined,
    family: q.get("family")?.slice(0, 80) || undefined,
    due: one("due", ["overdue", "soon"]),
    archived: q.get("archived") === "true" || undefined,
    order: one("order", ["changed", "name", "added"]),
    page: Number.isInteger(page) && page > 1 ? Math.min(page, 100_000) : undefined,
    per: perPage,
  };
}

/** Units by what was asked, with how many there are in all. */
export function useUnitList(query: UnitQuery) {
  return useQuery({
    queryKey: key.units(query),
    queryFn: async () => {
      const request = api.GET("/units", { params: { query } });
      const units = await take(request);
      const { headers } = (await request).response;
      return { units, total: Number(headers.get("X-Total-Count")), notYet: Number(headers.get("X-Not-Yet")) };
    },
    placeholderData: keepPreviousData,
  });
}
