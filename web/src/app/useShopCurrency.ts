import { useQuery } from "@tanstack/react-query";
import { api, take } from "../api/client";
import { useSession } from "./session";

/** What the shop writes behind amounts: one of its settings. */
export function useShopCurrency(): string {
  const person = useSession().data?.person;
  const rows = useQuery({
    queryKey: ["catalog", "settings"],
    queryFn: () => take(api.GET("/catalog/{list}", { params: { path: { list: "settings" } } })),
    enabled: Boolean(person),
    staleTime: 60_000,
  });
  return rows.data?.find((r) => r.cells.setting === "currency")?.cells.value ?? "";
}
