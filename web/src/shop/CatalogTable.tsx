import { Button, TextInput, VisuallyHidden } from "@mantine/core";
import { IconDownload, IconHistory, IconPlus, IconUpload } from "@tabler/icons-react";
import {
  type ColumnDef,
  columnFilteringFeature,
  createFilteredRowModel,
  createSortedRowModel,
  FlexRender,
  globalFilteringFeature,
  type Row,
  rowSortingFeature,
  tableFeatures,
  useTable,
} from "@tanstack/react-table";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type MouseEvent, useMemo, useRef, useState } from "react";
import type { CatalogColumn, CatalogList, CatalogName, CatalogRow } from "../api/client";
import { useMaySave } from "../app/session";
import { FileButton } from "../fields/FileButton";
import classes from "./catalog.module.css";
import { ImportFile } from "./ImportFile";
import { Past } from "./Past";
import { RowEditor } from "./RowEditor";
import { Starter } from "./Starter";
import { type Editing, isNumber, said, useCurrency, useList } from "./useList";
import "./shop.css";

const features = tableFeatures({
  columnFilteringFeature,
  globalFilteringFeature,
  rowSortingFeature,
  filteredRowModel: createFilteredRowModel(),
  sortedRowModel: createSortedRowModel(),
});
type Line = Row<typeof features, CatalogRow>;

/** What a row is ordered by in a column: figures by their worth, a pair of teeth by its ratio. */
function worth(c: CatalogColumn, r: CatalogRow): number | string {
  const cell = r.cells[c.key] ?? "";
  if (c.type === "teeth" && r.ratio) return r.ratio.decimal;
  return isNumber(c) ? Number.parseFloat(cell) || 0 : cell;
}

function columnsOf(list: CatalogList): ColumnDef<typeof features, CatalogRow>[] {
  return list.columns.map((c) => ({
    id: c.key,
    accessorFn: (r) => [said(c, r.cells[c.key]), c.type === "teeth" ? r.ratio?.label : ""].join(" "),
    sortFn: (a, b) => {
      const [x, y] = [worth(c, a.original), worth(c, b.original)];
      return typeof x === "number" && typeof y === "number" ? x - y : String(x).localeCompare(String(y));
    },
    sortDescFirst: false,
    cell: ({ row }) => (
      <>
        {said(c, row.original.cells[c.key])}
        {c.type === "teeth" && row.original.ratio && (
          <b className="row-ratio" title={`${row.original.ratio.num}/${row.original.ratio.den}`}>
            {row.original.ratio.label}
          </b>
        )}
      </>
    ),
  }));
}

/** A row holds every word, wherever it stands. */
const everyWord = (row: Line, _: string, words: string[]) => {
  const text = row
    .getAllCells()
    .map((c) => String(c.getValue()))
    .join(" ")
    .toLowerCase();
  return words.every((w) => text.includes(w));
};

/** The rows that hold every word of a search, ordered as the heads say. */
function useLines(list: CatalogList, rows: CatalogRow[] | undefined, search: string) {
  const words = useMemo(() => search.toLowerCase().split(/\s+/).filter(Boolean), [search]);
  const columns = useMemo(() => columnsOf(list), [list]);
  const data = useMemo(() => rows ?? [], [rows]);
  const table = useTable({
    features,
    columns,
    data,
    state: { globalFilter: words },
    onGlobalFilterChange: () => {},
    globalFilterFn: everyWord,
    getColumnCanGlobalFilter: (c) => c.id === list.columns[0]?.key, // asked once a row
    getRowId: (r) => String(r.id),
  });
  return { table, found: table.getRowModel().rows, words };
}

/** The row that is edited, or a new one with what a column begins with. */
function useEditing(list: CatalogList, maySave: boolean, save: { reset: () => void }) {
  const [editing, setEditing] = useState<Editing>();
  const begin = (e?: Editing) => {
    save.reset();
    setEditing(e);
  };
  const edit = (r: CatalogRow, first?: string) =>
    maySave && begin({ id: r.id, version: r.version, cells: { ...r.cells }, first });
  const blank = () =>
    begin({
      id: "new",
      version: 0,
      cells: Object.fromEntries(list.columns.filter((c) => c.default).map((c) => [c.key, c.default ?? ""])),
    });
  return { editing, begin, edit, blank };
}

/** One list of the shop: filter, edit in place, history, CSV out and in. */
export function CatalogTable({ list, name }: { list: CatalogList; name: CatalogName }) {
  const maySave = useMaySave();
  const { rows, save, add, remove, refresh } = useList(name);
  const currency = useCurrency();
  const [search, setSearch] = useState("");
  const [history, setHistory] = useState<number | "all">();
  const [file, setFile] = useState<string>();
  const { table, found, words } = useLines(list, rows.data, search);
  const { scroll, seen, above, below } = useRowsInSight(found);

  const { editing, begin, edit, blank } = useEditing(list, maySave, save);
  const editor = (e: Editing) => (
    <RowEditor
      key={e.id}
      list={list}
      row={e}
      busy={save.isPending}
      error={save.error}
      onKeep={(x) => save.mutate(x, { onSuccess: () => begin() })}
      onLeave={() => begin()}
    />
  );
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
          <Tools name={name} maySave={maySave} onHistory={() => setHistory("all")} onFile={setFile} onNew={blank} />
        </div>
      </div>
      {maySave && rows.data?.length === 0 && !editing && <Starter list={list} name={name} onTake={setFile} />}
      <div ref={scroll} className={`scroll ${classes.scroll}`}>
        <table className={`figures catalog ${classes.catalog}`} aria-rowcount={found.length}>
          <thead>
            <tr>
              {list.columns.map((c) => (
                <HeadCell key={c.key} c={c} column={table.getColumn(c.key)} currency={currency} />
              ))}
              <th>
                <VisuallyHidden>Do</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {editing?.id === "new" && editor(editing)}
            {above > 0 && <Gap height={above} columns={list.columns.length + 1} />}
            {seen.map(({ index }) => {
              const r = found[index];
              if (!r) return null;
              if (editing?.id === r.original.id) return editor(editing);
              return (
                <ListRow
                  key={r.id}
                  list={list}
                  row={r}
                  onEdit={maySave ? (first) => edit(r.original, first) : undefined}
                  onRemove={() => remove.mutate(r.original)}
                  onPast={() => setHistory(r.original.id)}
                />
              );
            })}
            {below > 0 && <Gap height={below} columns={list.columns.length + 1} />}
          </tbody>
        </table>
      </div>
      <p className="dim">
        {rows.data
          ? words.length > 0
            ? `${found.length} of ${rows.data.length} rows`
            : `${rows.data.length} rows`
          : (rows.error?.message ?? "Loading …")}
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

/** Only the rows in sight are drawn: a list may have twenty thousand. */
function useRowsInSight(found: Line[]) {
  const scroll = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: found.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => 34,
    getItemKey: (i) => found[i]?.id ?? i,
    overscan: 50, // a short list is drawn whole, for the keyboard and for looking in the page
  });
  const seen = virtual.getVirtualItems();
  return { scroll, seen, above: seen[0]?.start ?? 0, below: virtual.getTotalSize() - (seen.at(-1)?.end ?? 0) };
}

type Sortable = { getIsSorted: () => false | "asc" | "desc"; toggleSorting: (desc?: boolean) => void };

function HeadCell({ c, column, currency }: { c: CatalogColumn; column?: Sortable; currency?: string }) {
  const sorted = column?.getIsSorted();
  return (
    <th
      title={c.help}
      className={isNumber(c) ? classes.num : undefined}
      aria-sort={sorted ? (sorted === "desc" ? "descending" : "ascending") : undefined}
    >
      <button
        type="button"
        onClick={() => column?.toggleSorting(sorted === "asc")}
        title={`Sort by ${c.name.toLowerCase()}`}
      >
        {c.name}
        {(c.unit || (c.type === "money" && currency)) && <small>, {c.unit || currency}</small>}
        {sorted ? (sorted === "desc" ? " ↓" : " ↑") : ""}
      </button>
    </th>
  );
}

/** Stands for the rows that are out of sight. */
function Gap({ height, columns }: { height: number; columns: number }) {
  return (
    <tr className={classes.gap}>
      <td colSpan={columns} style={{ height }} />
    </tr>
  );
}

type RowProps = {
  list: CatalogList;
  row: Line;
  onEdit?: (first?: string) => void;
  onRemove: () => void;
  onPast: () => void;
};

function ListRow({ list, row, onEdit, onRemove, onPast }: RowProps) {
  const name = list.columns
    .filter((c) => c.identity)
    .map((c) => said(c, row.original.cells[c.key]))
    .filter(Boolean)
    .join(" ");
  const pressed = (e: MouseEvent) => {
    const cell = (e.target as HTMLElement).closest<HTMLElement>("[data-column]");
    if (cell) onEdit?.(cell.dataset.column);
  };
  const tool = (words: string, act: () => void) => (
    <button type="button" className="linklike" onClick={act} aria-label={`${words} ${name}`}>
      {words}
    </button>
  );
  return (
    <tr onClick={pressed}>
      {row.getAllCells().map((cell, i) => {
        const c = list.columns[i];
        return (
          <td key={cell.id} data-column={c?.key} className={c && isNumber(c) ? classes.num : undefined}>
            <FlexRender cell={cell} />
          </td>
        );
      })}
      <td className={classes.tools}>
        {onEdit && tool("Edit", () => onEdit())}
        {onEdit && tool("Remove", onRemove)}
        {tool("Past", onPast)}
      </td>
    </tr>
  );
}

type ToolsProps = {
  name: CatalogName;
  maySave: boolean;
  onHistory: () => void;
  onFile: (text: string) => void;
  onNew: () => void;
};

function Tools({ name, maySave, onHistory, onFile, onNew }: ToolsProps) {
  return (
    <>
      <Button variant="default" leftSection={<IconHistory size={16} />} onClick={onHistory}>
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
          <FileButton
            name="CSV file"
            accept=".csv,text/csv"
            variant="default"
            leftSection={<IconUpload size={16} />}
            onText={onFile}
          >
            Import CSV
          </FileButton>
          <Button leftSection={<IconPlus size={16} />} onClick={onNew}>
            New row
          </Button>
        </>
      )}
    </>
  );
}
