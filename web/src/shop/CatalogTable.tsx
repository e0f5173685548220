import { Button, Drawer, TextInput } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { IconDownload, IconHistory, IconPlus, IconUpload } from "@tabler/icons-react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type KeyboardEvent, useLayoutEffect, useMemo, useRef, useState } from "react";
import {
  api,
  type CatalogColumn,
  type CatalogList,
  type CatalogName,
  type CatalogRow,
  Refused,
  take,
} from "../api/client";
import { key, shopChanged } from "../api/keys";
import { useMaySave } from "../app/session";
import { when } from "../format/numbers";
import { ImportFile } from "./ImportFile";
import { Starter } from "./Starter";

type Cells = Record<string, string>;
type Editing = { id: number | "new"; version: number; cells: Cells };

const isNumber = (c: CatalogColumn) => ["whole", "number", "money", "ratio"].includes(c.type);

/** What a cell says: a choice by its words. */
function said(c: CatalogColumn, v: string | undefined): string {
  if (!v) return "";
  return c.choices?.find((o) => o.value === v)?.words ?? v;
}

/** One list of the shop: filter, edit in place, history, CSV out and in. */
export function CatalogTable({ list, name }: { list: CatalogList; name: CatalogName }) {
  const client = useQueryClient();
  const maySave = useMaySave();
  const path = { params: { path: { list: name } } };
  const rows = useQuery({ queryKey: key.catalog(name), queryFn: () => take(api.GET("/catalog/{list}", path)) });
  const settings = useQuery({
    queryKey: key.catalog("settings"),
    queryFn: () => take(api.GET("/catalog/{list}", { params: { path: { list: "settings" } } })),
    staleTime: 60_000,
  });
  const currency = settings.data?.find((r) => r.cells.setting === "currency")?.cells.value;
  const [search, setSearch] = useState("");
  const [sort, setSort] = useState<{ key: string; down: boolean }>();
  const [editing, setEditing] = useState<Editing>();
  const [history, setHistory] = useState<number | "all">();
  const [file, setFile] = useState<string>();
  const [shown, setShown] = useState(200);
  const input = useRef<HTMLInputElement>(null);
  const body = useRef<HTMLTableSectionElement>(null);
  const wanted = useRef<string>(undefined);
  const refresh = () => {
    void client.invalidateQueries({ queryKey: key.catalog() });
    void client.invalidateQueries({ queryKey: key.changes(name) });
    shopChanged(client);
  };
  const put = (row: CatalogRow) => {
    client.setQueryData<CatalogRow[]>(key.catalog(name), (old) =>
      old?.some((r) => r.id === row.id) ? old.map((r) => (r.id === row.id ? row : r)) : [row, ...(old ?? [])],
    );
  };
  const save = useMutation({
    mutationFn: (e: Editing) =>
      e.id === "new"
        ? take(api.POST("/catalog/{list}", { ...path, body: { cells: e.cells } }))
        : take(
            api.PUT("/catalog/{list}/rows/{id}", {
              params: { path: { list: name, id: e.id } },
              body: { cells: e.cells, version: e.version },
            }),
          ),
    onSuccess: (row) => {
      put(row);
      setEditing(undefined);
      refresh();
    },
  });
  const add = (cells: Cells) => save.mutate({ id: "new", version: 0, cells });
  const remove = useMutation({
    mutationFn: (r: CatalogRow) =>
      take(api.DELETE("/catalog/{list}/rows/{id}", { params: { path: { list: name, id: r.id } } })),
    onSuccess: (_, r) => {
      client.setQueryData<CatalogRow[]>(key.catalog(name), (old) => old?.filter((x) => x.id !== r.id));
      refresh();
      notifications.show({
        message: (
          <>
            Taken out.{" "}
            <button type="button" className="linklike" onClick={() => add(r.cells)}>
              Put it back
            </button>
          </>
        ),
        autoClose: 12_000,
      });
    },
  });
  const refused = save.error instanceof Refused ? save.error : undefined;
  const word = search.trim().toLowerCase();
  const found = useMemo(() => {
    const words = word.split(/\s+/).filter(Boolean);
    const hits = (rows.data ?? []).filter((r) => {
      const text = list.columns
        .map((c) => said(c, r.cells[c.key]))
        .concat(r.ratio?.label ?? "")
        .join(" ")
        .toLowerCase();
      return words.every((w) => text.includes(w));
    });
    const c = list.columns.find((x) => x.key === sort?.key);
    if (c && sort) {
      const dir = sort.down ? -1 : 1;
      hits.sort((a, b) => {
        const [x, y] = [a.cells[c.key] ?? "", b.cells[c.key] ?? ""];
        const cmp =
          c.type === "teeth" && a.ratio && b.ratio
            ? a.ratio.decimal - b.ratio.decimal
            : isNumber(c)
              ? (Number.parseFloat(x) || 0) - (Number.parseFloat(y) || 0)
              : x.localeCompare(y);
        return dir * cmp;
      });
    }
    return hits;
  }, [rows.data, word, sort, list.columns]);
  // The field that was pressed, or the first, is ready to be typed into.
  const row = editing?.id;
  useLayoutEffect(() => {
    if (row === undefined) return;
    const at = (css: string) => body.current?.querySelector<HTMLElement>(css);
    (at(`[data-cell="${wanted.current}"]`) ?? at("[data-cell]"))?.focus();
  }, [row]);
  const begin = (r: CatalogRow, key?: string) => {
    if (!maySave) return;
    save.reset();
    setEditing({ id: r.id, version: r.version, cells: { ...r.cells } });
    wanted.current = key;
  };
  const blank = () => {
    save.reset();
    setEditing({
      id: "new",
      version: 0,
      cells: Object.fromEntries(list.columns.filter((c) => c.default).map((c) => [c.key, c.default ?? ""])),
    });
    wanted.current = undefined;
  };
  const keys = (e: KeyboardEvent) => {
    if (e.key === "Escape") {
      setEditing(undefined);
      save.reset();
    }
    if (e.key === "Enter" && editing) {
      e.preventDefault();
      save.mutate(editing);
    }
  };
  const general = refused && !refused.faults.some((f) => f.field.startsWith("/cells/")) ? refused.message : undefined;
  const edit = (e: Editing) => (
    <tr key={e.id} className="editing" onKeyDown={keys}>
      {list.columns.map((c) => {
        const fault = refused?.at(`/cells/${c.key}`);
        const set = (v: string) => setEditing({ ...e, cells: { ...e.cells, [c.key]: v } });
        const label = `${c.name}${c.unit ? `, ${c.unit}` : ""}`;
        return (
          <td key={c.key}>
            {c.type === "choice" ? (
              <select
                data-cell={c.key}
                aria-label={label}
                aria-invalid={Boolean(fault)}
                value={e.cells[c.key] ?? ""}
                onChange={(x) => set(x.currentTarget.value)}
              >
                {!c.required && <option value="">any</option>}
                {c.required && !e.cells[c.key] && <option value="">choose</option>}
                {c.choices?.map((o) => (
                  <option key={o.value} value={o.value}>
                    {o.words}
                  </option>
                ))}
              </select>
            ) : (
              <input
                data-cell={c.key}
                aria-label={label}
                aria-invalid={Boolean(fault)}
                title={c.help}
                inputMode={c.type === "whole" ? "numeric" : isNumber(c) ? "decimal" : undefined}
                value={e.cells[c.key] ?? ""}
                maxLength={200}
                onChange={(x) => set(x.currentTarget.value)}
              />
            )}
            {fault && <small className="trouble">{fault}</small>}
          </td>
        );
      })}
      <td className="row-tools">
        <Button size="compact-sm" loading={save.isPending} onClick={() => save.mutate(e)}>
          Keep
        </Button>
        <button
          type="button"
          className="linklike"
          onClick={() => {
            setEditing(undefined);
            save.reset();
          }}
        >
          Leave
        </button>
        {general && <small className="trouble">{general}</small>}
        {save.error && !refused && <small className="trouble">{save.error.message}</small>}
      </td>
    </tr>
  );
  const rowName = (cells: CatalogRow["cells"]) =>
    list.columns
      .filter((c) => c.identity)
      .map((c) => said(c, cells[c.key]))
      .filter(Boolean)
      .join(" ");
  return (
    <main id="main" className="page shop">
      <div className="row spread wrap">
        <p className="dim grow">{list.for}</p>
        <div className="row wrap">
          <TextInput
            aria-label="Filter"
            placeholder="Filter: any words"
            value={search}
            onChange={(e) => setSearch(e.currentTarget.value)}
          />
          <Button variant="default" leftSection={<IconHistory size={16} />} onClick={() => setHistory("all")}>
            Changes
          </Button>
          <Button
            component="a"
            href={`/api/v1/catalog/${name}/csv`}
            download={`${name}.csv`}
            variant="default"
            leftSection={<IconDownload size={16} />}
          >
            CSV
          </Button>
          {maySave && (
            <>
              <input
                ref={input}
                type="file"
                accept=".csv,text/csv"
                hidden
                aria-label="CSV file"
                onChange={async (e) => {
                  const f = e.currentTarget.files?.[0];
                  e.currentTarget.value = "";
                  if (f) setFile(await f.text());
                }}
              />
              <Button variant="default" leftSection={<IconUpload size={16} />} onClick={() => input.current?.click()}>
                Take in CSV
              </Button>
              <Button leftSection={<IconPlus size={16} />} onClick={blank}>
                New row
              </Button>
            </>
          )}
        </div>
      </div>
      {maySave && rows.data?.length === 0 && !editing && <Starter list={list} name={name} onTake={setFile} />}
      <div className="scroll shop-scroll">
        <table className="figures catalog">
          <thead>
            <tr>
              {list.columns.map((c) => (
                <th key={c.key} title={c.help} className={isNumber(c) ? "num" : ""}>
                  <button
                    type="button"
                    onClick={() =>
                      setSort(sort?.key === c.key ? { key: c.key, down: !sort.down } : { key: c.key, down: false })
                    }
                    title={`Sort by ${c.name.toLowerCase()}`}
                  >
                    {c.name}
                    {(c.unit || (c.type === "money" && currency)) && <small>, {c.unit || currency}</small>}
                    {sort?.key === c.key ? (sort.down ? " ↓" : " ↑") : ""}
                  </button>
                </th>
              ))}
              <th aria-label="Tools" />
            </tr>
          </thead>
          <tbody ref={body}>
            {editing?.id === "new" && edit(editing)}
            {found.slice(0, shown).map((r) =>
              editing?.id === r.id ? (
                edit(editing)
              ) : (
                <tr
                  key={r.id}
                  onClick={(e) => {
                    const td = (e.target as HTMLElement).closest("td");
                    const i = td ? (td.parentElement as HTMLTableRowElement).cells : undefined;
                    const at = td && i ? Array.from(i).indexOf(td) : -1;
                    if (at >= 0 && at < list.columns.length) begin(r, list.columns[at]?.key);
                  }}
                >
                  {list.columns.map((c) => (
                    <td key={c.key} className={isNumber(c) ? "num" : ""}>
                      {said(c, r.cells[c.key])}
                      {c.type === "teeth" && r.ratio && (
                        <b className="row-ratio" title={`${r.ratio.num}/${r.ratio.den}`}>
                          {r.ratio.label}
                        </b>
                      )}
                    </td>
                  ))}
                  <td className="row-tools">
                    {maySave && (
                      <>
                        <button
                          type="button"
                          className="linklike"
                          onClick={() => begin(r)}
                          aria-label={`Edit ${rowName(r.cells)}`}
                        >
                          Edit
                        </button>
                        <button
                          type="button"
                          className="linklike"
                          onClick={() => remove.mutate(r)}
                          aria-label={`Take out ${rowName(r.cells)}`}
                        >
                          Take out
                        </button>
                      </>
                    )}
                    <button
                      type="button"
                      className="linklike"
                      onClick={() => setHistory(r.id)}
                      aria-label={`Past ${rowName(r.cells)}`}
                    >
                      Past
                    </button>
                  </td>
                </tr>
              ),
            )}
          </tbody>
        </table>
      </div>
      <p className="dim">
        {rows.data
          ? word
            ? `${found.length} of ${rows.data.length} rows`
            : `${rows.data.length} rows`
          : rows.error
            ? rows.error.message
            : "Loading …"}
        {found.length > shown && (
          <>
            ; {shown} shown.{" "}
            <button type="button" className="linklike" onClick={() => setShown(shown + 500)}>
              Show more
            </button>
          </>
        )}
      </p>
      {history !== undefined && (
        <Past
          name={name}
          row={history === "all" ? undefined : history}
          onClose={() => setHistory(undefined)}
          onBack={add}
        />
      )}
      {file !== undefined && (
        <ImportFile
          list={list}
          name={name}
          text={file}
          onClose={() => setFile(undefined)}
          onTaken={() => {
            setFile(undefined);
            refresh();
          }}
        />
      )}
    </main>
  );
}

/** What was changed, by whom and when. */
function Past({
  name,
  row,
  onClose,
  onBack,
}: {
  name: CatalogName;
  row?: number;
  onClose: () => void;
  onBack: (cells: Cells) => void;
}) {
  const maySave = useMaySave();
  const changes = useQuery({
    queryKey: key.changes(name, row),
    queryFn: () => take(api.GET("/catalog/{list}/changes", { params: { path: { list: name }, query: { row } } })),
  });
  return (
    <Drawer opened onClose={onClose} position="right" title={row ? "This row's past" : "What was changed"} size="md">
      <ol className="history">
        {changes.data?.map((c) => (
          <li key={c.id}>
            <span className="mark" aria-hidden="true">
              {{ added: "+", changed: "✎", removed: "−" }[c.what]}
            </span>
            <div>
              <div>{c.text}</div>
              <small className="dim">
                {c.by}, {when(c.at)}{" "}
                {c.what === "removed" && maySave && c.before && (
                  <button type="button" className="linklike" onClick={() => onBack(c.before ?? {})}>
                    Put it back
                  </button>
                )}
              </small>
            </div>
          </li>
        ))}
      </ol>
      {changes.data?.length === 0 && <p className="dim">Nothing was changed since the list began.</p>}
    </Drawer>
  );
}
