import { Button, Pagination, TextInput } from "@mantine/core";
import { useDebouncedValue, useDisclosure, useHotkeys } from "@mantine/hooks";
import { IconPlus } from "@tabler/icons-react";
import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { blocking } from "../api/blocking";
import type { Unit } from "../api/client";
import { useMaySave } from "../app/session";
import { useTitle } from "../app/title";
import { StageGlyph } from "../drawing/StageGlyph";
import { StateMark } from "../drawing/StateMark";
import { chance, when } from "../format/numbers";
import { unitKindWords } from "../format/words";
import { SignInFirst } from "../people/SignInFirst";
import { AddUnit } from "./AddUnit";
import { Filters } from "./Filters";
import { ImportButton } from "./ImportButton";
import { SetAside } from "./SetAside";
import classes from "./units.module.css";
import { asked, perPage, useUnitList } from "./useUnitList";

/** Every unit; what the list is filtered by stands in its address. */
export function UnitsPage() {
  useTitle("Units");
  const [query, setQuery] = useSearchParams();
  const [search, setSearch] = useState(query.get("search") ?? "");
  const [settled] = useDebouncedValue(search.trim(), 200);
  const [adding, add] = useDisclosure(false);
  const maySave = useMaySave();
  const box = useRef<HTMLInputElement>(null);
  useHotkeys([["/", () => box.current?.focus()]]);
  const change = (name: string, value: string | undefined) => {
    // The address itself, not what was last drawn of it: two choices may follow each other at once.
    const q = new URLSearchParams(window.location.search);
    if (value) q.set(name, value);
    else q.delete(name);
    if (name !== "page") q.delete("page");
    setQuery(q, { replace: true });
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what was typed goes into the address
  useEffect(() => {
    if (settled !== (query.get("search") ?? "")) change("search", settled || undefined);
  }, [settled]);
  const q = asked(query);
  const list = useUnitList(q);
  const stop = blocking(list);
  if (stop) return <SignInFirst error={stop} />;
  const { search: sought, per: _, page: __, order: ___, ...filters } = q;
  const filtered = Object.values(filters).some((v) => v !== undefined);
  return (
    <main id="main" className="page">
      <div className="row spread wrap">
        <h1>Units</h1>
        <div className="row wrap">
          <TextInput
            ref={box}
            aria-label="Search units"
            placeholder="Name, owner, 4.10, 41:10 … ( / )"
            value={search}
            maxLength={100}
            onChange={(e) => setSearch(e.currentTarget.value)}
          />
          {maySave && (
            <>
              <ImportButton />
              <Button leftSection={<IconPlus size={18} />} onClick={add.open}>
                Add a unit
              </Button>
            </>
          )}
        </div>
      </div>
      <Filters
        query={query}
        onChange={change}
        onAll={(to) => {
          setQuery(to, { replace: true });
          setSearch(to.get("search") ?? "");
        }}
        maySave={maySave}
      />
      <SetAside />
      {list.data && (
        <p className="dim unit-count" role="status">
          {list.data.total > 0 && counted(list.data.total, q.page ?? 1)}
          {list.data.total === 0 && nothing(sought, filtered, q.archived)}
          {list.data.notYet > 0 && " Many units changed at once; some are not searched yet."}
        </p>
      )}
      <ul className={classes.list} data-part="units">
        {list.data?.units.map((u) => (
          <UnitLine key={u.id} unit={u} />
        ))}
      </ul>
      {list.data && list.data.total > perPage && (
        <Pagination
          total={Math.ceil(list.data.total / perPage)}
          value={q.page ?? 1}
          onChange={(n) => {
            change("page", n > 1 ? String(n) : undefined);
            window.scrollTo({ top: 0 });
          }}
          getControlProps={(c) => ({
            "aria-label": { first: "First page", last: "Last page", next: "Next page", previous: "Previous page" }[c],
          })}
          getItemProps={(n) => ({ "aria-label": `Page ${n}` })}
        />
      )}
      {adding && <AddUnit onClose={add.close} />}
    </main>
  );
}

function counted(total: number, page: number) {
  const from = (page - 1) * perPage + 1;
  if (from > total) return `${total} units; this page is past the last.`;
  if (total === 1) return "1 unit.";
  if (total <= perPage) return `${total} units.`;
  return `${from} to ${Math.min(page * perPage, total)} of ${total} units.`;
}

function nothing(sought: string | undefined, filtered: boolean, archived: boolean | undefined) {
  if (sought && filtered) return `No unit under this filter matches "${sought}".`;
  if (sought) return `Nothing on record matches "${sought}".`;
  if (archived) return "No archived units.";
  if (filtered) return "No unit matches.";
  return "No units yet. Count something, or add one.";
}

function UnitLine({ unit: u }: { unit: Unit }) {
  return (
    <li>
      <Link to={`/units/${u.id}`}>
        <span className={classes.name} data-part="unit">
          <b>{u.name}</b>
          <small>
            {unitKindWords[u.kind]} · {when(u.changed_at)}
          </small>
          {u.archived && <small>archived {when(u.archived.at)}</small>}
        </span>
        <span className={classes.stages}>
          {u.stages.map((s) => (
            <span key={s.id} className={`${classes.mini} is-${s.state}`}>
              <StageGlyph kind={s.question.kind} width={48} />
              <span>
                <small>{s.name}</small>
                <b>
                  {s.label?.label ?? s.about ?? "?"} {s.label && <small>{chance(s.label.probability)}</small>}
                </b>
                {s.trouble ? <small className="trouble">{s.trouble}</small> : <StateMark state={s.state} />}
              </span>
            </span>
          ))}
        </span>
      </Link>
    </li>
  );
}
