import { useQuery } from "@tanstack/react-query";
import { api, type CatalogName, type CatalogRow, take } from "../api/client";
import { key } from "../api/keys";
import { useSession } from "../app/session";

/** The rows of one of the shop's lists; none without an account. */
export function useShop(list: CatalogName): CatalogRow["cells"][] {
  const person = useSession().data?.person;
  const rows = useQuery({
    queryKey: key.catalog(list),
    queryFn: () => take(api.GET("/catalog/{list}", { params: { path: { list } } })),
    enabled: Boolean(person),
    staleTime: 60_000,
  });
  return rows.data?.map((r) => r.cells) ?? [];
}

/** What stands in a column, each once. */
export const distinct = (rows: CatalogRow["cells"][], key: string) => [
  ...new Set(rows.map((r) => r[key] ?? "").filter(Boolean)),
];
