import { Button, CloseButton, NativeSelect, Switch, TextInput } from "@mantine/core";
import { useDisclosure } from "@mantine/hooks";
import { IconBookmark, IconChevronDown } from "@tabler/icons-react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, Refused, reason, take } from "../api/client";
import { askAnew, key } from "../api/keys";
import { undoable } from "../app/undo";
import { unitKindWords } from "../format/words";
import classes from "./filters.module.css";

const stateWords = {
  measured: "has a measured ratio",
  assumed: "has an assumed ratio",
  conflict: "has readings that contradict",
  unknown: "has a ratio not counted",
};

/** By what the list is filtered and ordered, and the filters that the shop saved. */
export function Filters({
  query,
  onChange,
  onAll,
  maySave,
}: {
  query: URLSearchParams;
  onChange: (name: string, value: string | undefined) => void;
  onAll: (to: URLSearchParams) => void;
  maySave: boolean;
}) {
  const [open, { toggle }] = useDisclosure(false);
  const filters = useQuery({ queryKey: key.units("filters"), queryFn: () => take(api.GET("/filters")) });
  const pick = (name: string, label: string, any: string, data: { value: string; label: string }[]) => {
    const value = query.get(name) ?? "";
    // What the address names and the list doesn't have is shown all the same.
    const all = data.some((d) => d.value === value) || !value ? data : [...data, { value, label: value }];
    return (
      <NativeSelect
        aria-label={label}
        size="sm"
        value={value}
        data-set={value ? true : undefined}
        onChange={(e) => onChange(name, e.currentTarget.value || undefined)}
        data={[{ value: "", label: any }, ...all]}
      />
    );
  };
  const many = (list: { value: string; units: number }[] | undefined) =>
    (list ?? []).map((x) => ({ value: x.value, label: `${x.value} (${x.units})` }));
  const now = new URLSearchParams(query);
  now.delete("page");
  now.sort();
  const inUse = now.toString();
  return (
    <div className={classes.filters}>
      <Button
        className={classes.toggle}
        variant="default"
        size="compact-md"
        aria-expanded={open}
        rightSection={<IconChevronDown size={16} />}
        onClick={toggle}
      >
        Filter and order
      </Button>
      <div className={classes.fields} data-open={open || undefined}>
        {pick(
          "kind",
          "Kind",
          "Any kind",
          Object.entries(unitKindWords).map(([value, label]) => ({ value, label })),
        )}
        {pick("ratio", "Ratio", "Any ratio", many(filters.data?.ratios))}
        {pick("family", "Gear family", "Any family", many(filters.data?.families))}
        {pick(
          "state",
          "Measured or not",
          "Measured or not",
          Object.entries(stateWords).map(([value, label]) => ({ value, label })),
        )}
        {pick("due", "Service", "Any service", [
          { value: "overdue", label: "service overdue" },
          { value: "soon", label: "overdue or soon" },
        ])}
        {pick("order", "Order", query.get("search") ? "Best match first" : "Last worked on first", [
          ...(query.get("search") ? [{ value: "changed", label: "Last worked on first" }] : []),
          { value: "name", label: "By name" },
          { value: "added", label: "Newest first" },
        ])}
        <Switch
          label="Archived"
          checked={query.get("archived") === "true"}
          onChange={(e) => onChange("archived", e.currentTarget.checked ? "true" : undefined)}
        />
        {inUse && (
          <Button variant="default" size="compact-md" onClick={() => onAll(new URLSearchParams())}>
            Show all
          </Button>
        )}
      </div>
      <Saved saved={filters.data?.saved ?? []} inUse={inUse} onAll={onAll} maySave={maySave} />
    </div>
  );
}

type SavedFilter = { id: number; name: string; query: string; by: string };

function Saved({
  saved,
  inUse,
  onAll,
  maySave,
}: {
  saved: SavedFilter[];
  inUse: string;
  onAll: (to: URLSearchParams) => void;
  maySave: boolean;
}) {
  const client = useQueryClient();
  const [name, setName] = useState<string>();
  const done = () => askAnew(client, "filters");
  const save = useMutation({
    mutationFn: (name: string) => take(api.POST("/filters", { body: { name, query: inUse } })),
    onSuccess: () => {
      setName(undefined);
      void done();
    },
  });
  const drop = useMutation({
    mutationFn: (f: SavedFilter) => take(api.DELETE("/filters/{id}", { params: { path: { id: f.id } } })),
    onSuccess: (_, f) =>
      undoable(`Filter ${f.name} removed.`, async () => {
        await take(api.POST("/filters", { body: { name: f.name, query: f.query } }));
        await done();
      }),
    onSettled: done,
  });
  const known = saved.find((f) => f.query === inUse);
  const refused = save.error instanceof Refused ? save.error.at("/name") : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (name?.trim()) save.mutate(name.trim());
  };
  if (saved.length === 0 && (!inUse || !maySave)) return null;
  return (
    <div className={classes.saved}>
      {saved.map((f) => (
        <span key={f.id} className={classes.one} data-on={f === known || undefined}>
          <button type="button" onClick={() => onAll(new URLSearchParams(f.query))} title={`saved by ${f.by}`}>
            {f.name}
          </button>
          {maySave && f === known && (
            <CloseButton size="sm" aria-label={`Remove the filter ${f.name}`} onClick={() => drop.mutate(f)} />
          )}
        </span>
      ))}
      {maySave &&
        inUse &&
        !known &&
        (name === undefined ? (
          <Button
            variant="subtle"
            size="compact-md"
            leftSection={<IconBookmark size={16} />}
            onClick={() => setName("")}
          >
            Save this filter
          </Button>
        ) : (
          <form className="row" onSubmit={submit}>
            <TextInput
              aria-label="Name of the filter"
              placeholder="what the shop calls it"
              value={name}
              maxLength={60}
              data-autofocus
              autoFocus
              onChange={(e) => setName(e.currentTarget.value)}
              error={refused ?? (save.error ? reason(save.error) : undefined)}
            />
            <Button type="submit" size="compact-md" loading={save.isPending} disabled={!name.trim()}>
              Save
            </Button>
            <Button variant="default" size="compact-md" onClick={() => setName(undefined)}>
              Cancel
            </Button>
          </form>
        ))}
    </div>
  );
}
