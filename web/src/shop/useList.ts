import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type CatalogColumn, type CatalogName, type CatalogRow, take } from "../api/client";
import { askAnew, key } from "../api/keys";
import { undoable } from "../app/undo";

export type Cells = Record<string, string>;
export type Editing = { id: number | "new"; version: number; cells: Cells; first?: string };

export const isNumber = (c: CatalogColumn) => ["whole", "number", "money", "ratio"].includes(c.type);

/** What a cell says: a choice by its words. */
export function said(c: CatalogColumn, v: string | undefined): string {
  if (!v) return "";
  return c.choices?.find((o) => o.value === v)?.words ?? v;
}

/** The rows of one list, and what can be done to them. */
export function useList(name: CatalogName) {
  const client = useQueryClient();
  const path = { params: { path: { list: name } } };
  const rows = useQuery({ queryKey: key.catalog(name), queryFn: () => take(api.GET("/catalog/{list}", path)) });
  const refresh = () => {
    askAnew(client, "list");
    askAnew(client, "shop");
  };
  const set = (change: (old: CatalogRow[]) => CatalogRow[]) =>
    client.setQueryData<CatalogRow[]>(key.catalog(name), (old) => change(old ?? []));
  const save = useMutation({
    mutationFn: ({ id, version, cells }: Editing) =>
      id === "new"
        ? take(api.POST("/catalog/{list}", { ...path, body: { cells } }))
        : take(
            api.PUT("/catalog/{list}/rows/{id}", {
              params: { path: { list: name, id } },
              body: { cells, version },
            }),
          ),
    onSuccess: (row) => {
      set((old) => (old.some((r) => r.id === row.id) ? old.map((r) => (r.id === row.id ? row : r)) : [row, ...old]));
      refresh();
    },
  });
  const add = (cells: Cells) => save.mutate({ id: "new", version: 0, cells });
  const remove = useMutation({
    mutationFn: (r: CatalogRow) =>
      take(api.DELETE("/catalog/{list}/rows/{id}", { params: { path: { list: name, id: r.id } } })),
    onSuccess: (_, r) => {
      set((old) => old.filter((x) => x.id !== r.id));
      refresh();
      undoable("Removed.", () => save.mutateAsync({ id: "new", version: 0, cells: r.cells }), "Undo");
    },
  });
  return { rows, save, add, remove, refresh };
}

/** What the shop writes behind amounts. */
export function useCurrency(): string | undefined {
  const settings = useQuery({
    queryKey: key.catalog("settings"),
    queryFn: () => take(api.GET("/catalog/{list}", { params: { path: { list: "settings" } } })),
    staleTime: 60_000,
  });
  return settings.data?.find((r) => r.cells.setting === "currency")?.cells.value;
}
