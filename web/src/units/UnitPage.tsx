import { Button, Loader, Menu, Textarea, TextInput } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { IconChevronDown, IconDownload, IconPrinter } from "@tabler/icons-react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, Refused, take, type Unit } from "../api/client";
import { askAnew, key } from "../api/keys";
import { useMaySave } from "../app/session";
import { useTitle } from "../app/title";
import { benches } from "../benches/registry";
import { useUnit } from "../benches/useUnit";
import { Signed } from "../format/Signed";
import { unitKindWords } from "../format/words";
import { UnitMachine } from "../machine/UnitMachine";
import { SignInFirst } from "../people/SignInFirst";
import { Archive, ArchivedNote } from "./Archive";
import { History } from "./History";
import { NextPanel } from "./NextPanel";
import { PartPanel } from "./PartPanel";
import { PrintedRatios } from "./PrintedRatios";
import { UnitKindSelect } from "./UnitKindSelect";
import classes from "./unit.module.css";
import "./units.css";

export function UnitPage() {
  const id = Number(useParams().id);
  const { unit: u, line, error } = useUnit(id);
  const maySave = useMaySave();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  useTitle(u?.name);
  if (error) return <SignInFirst error={error} />;
  if (!u || !line) return <Loader m="xl" />;
  const doors = benches.flatMap((b) => (b.unit?.has(u) ? [b.unit] : []));
  const documents = [
    { name: "Document (JSON)", href: `/api/v1/units/${u.id}/document`, download: `${u.name}.json` },
    { name: "Document with photos (zip)", href: `/api/v1/units/${u.id}/document.zip`, download: `${u.name}.zip` },
  ].map(({ name, ...file }) => (
    <Menu.Item key={name} component="a" {...file} leftSection={<IconDownload size={18} />}>
      {name}
    </Menu.Item>
  ));
  documents.push(
    <Menu.Item
      key="print"
      leftSection={<IconPrinter size={18} />}
      onClick={() => setTimeout(() => window.print(), 300)}
    >
      Print the unit
    </Menu.Item>,
  );
  const part = line.document.parts.find((p) => p.id === query.get("part"));
  const choose = (to: string | undefined) =>
    setQuery(
      (q) => {
        if (to) q.set("part", to);
        else q.delete("part");
        return q;
      },
      { replace: true },
    );
  return (
    <>
      <div className="band">
        <div className={classes.head}>
          <h1>
            {u.name} <span>· {unitKindWords[u.kind]}</span>
          </h1>
          <div className="row wrap">
            {doors.map((d) => (
              <Button
                key={d.path}
                visibleFrom="sm"
                variant="default"
                size="compact-md"
                leftSection={<d.icon size={16} />}
                component={Link}
                to={`/units/${u.id}/${d.path}`}
              >
                {d.door}
              </Button>
            ))}
            <Menu position="bottom-end">
              <Menu.Target>
                <Button
                  visibleFrom="sm"
                  variant="default"
                  size="compact-md"
                  leftSection={<IconDownload size={16} />}
                  rightSection={<IconChevronDown size={16} />}
                >
                  Document
                </Button>
              </Menu.Target>
              <Menu.Dropdown>{documents}</Menu.Dropdown>
            </Menu>
            <Menu position="bottom-end">
              <Menu.Target>
                <Button hiddenFrom="sm" variant="default" rightSection={<IconChevronDown size={18} />}>
                  More
                </Button>
              </Menu.Target>
              <Menu.Dropdown>
                {doors.map((d) => (
                  <Menu.Item
                    key={d.path}
                    leftSection={<d.icon size={18} />}
                    component={Link}
                    to={`/units/${u.id}/${d.path}`}
                  >
                    {d.door}
                  </Menu.Item>
                ))}
                {documents}
              </Menu.Dropdown>
            </Menu>
          </div>
        </div>
      </div>
      <main id="main">
        <PrintedRatios unit={u} />
        <ArchivedNote unit={u} maySave={maySave} />
        <div className={classes.machine}>
          <UnitMachine
            doc={line.document}
            stages={u.stages}
            chosen={part?.id}
            onPart={(to) => {
              // A part that is chosen already opens, where it has one ratio.
              const there = u.stages.filter((s) => s.part === to && s.present);
              if (to === part?.id && there.length === 1) navigate(`/stages/${there[0]?.id}`);
              else choose(to);
            }}
          />
          <aside className={classes.side}>
            {part ? (
              <PartPanel
                key={part.id}
                unit={u}
                line={line}
                part={part}
                maySave={maySave}
                onClose={() => choose(undefined)}
              />
            ) : (
              <NextPanel unit={u} onPart={choose} />
            )}
          </aside>
        </div>
        <div className="page two-columns">
          <section>
            <Decisions unit={u.id} />
            <History unit={u.id} />
          </section>
          <div className="stack no-print">
            <UnitForm key={u.id} unit={u} maySave={maySave} />
            {maySave && !u.archived && <Archive unit={u} />}
          </div>
        </div>
      </main>
    </>
  );
}

/** What was decided, with its sheet where there is one. */
function Decisions({ unit }: { unit: number }) {
  const list = useQuery({
    queryKey: key.decisions(unit),
    queryFn: () => take(api.GET("/units/{id}/decisions", { params: { path: { id: unit } } })),
  });
  if (!list.data?.length) return null;
  return (
    <>
      <h2>Decided</h2>
      <ul className="decisions">
        {list.data.slice(0, 6).map((d) => (
          <li key={d.id}>
            <b>{d.title}</b>
            {d.note && <p>{d.note}</p>}
            <small className="dim">
              <Signed by={d.by} at={d.at} takenIn={d.taken_in} />
              {d.sheet && (
                <>
                  {" · "}
                  <a href={`/api/v1/decisions/${d.id}/pdf`} target="_blank" rel="noreferrer">
                    Sheet (PDF)
                  </a>
                </>
              )}
              {" · "}
              <a href={`/api/v1/decisions/${d.id}`} download={`${d.title}.json`}>
                what it was based on (JSON)
              </a>
            </small>
          </li>
        ))}
      </ul>
    </>
  );
}

/**
 * Name, kind and notes, changed over the version that was seen. What is being
 * typed stays while the unit gets readings; where someone else changed the same
 * words meanwhile, both are shown and the technician says which stand.
 */
function UnitForm({ unit, maySave }: { unit: Unit; maySave: boolean }) {
  const client = useQueryClient();
  const [seen, setSeen] = useState(unit);
  const [name, setName] = useState(unit.name);
  const [kind, setKind] = useState(unit.kind);
  const [notes, setNotes] = useState(unit.notes);
  const changed = name !== seen.name || kind !== seen.kind || notes !== seen.notes;
  const behind = unit.version !== seen.version;
  const follow = (u: Unit) => {
    setSeen(u);
    setName(u.name);
    setKind(u.kind);
    setNotes(u.notes);
  };
  if (behind && !changed) follow(unit);
  const change = useMutation({
    mutationFn: () =>
      take(
        api.PATCH("/units/{id}", {
          params: { path: { id: unit.id } },
          body: { base: seen.version, name, kind, notes },
        }),
      ),
    onSuccess: (u) => {
      client.setQueryData(key.unit(u.id), u);
      follow(u);
      askAnew(client, "unit", u.id);
      notifications.show({ message: "Saved." });
    },
    onError: (e) => {
      if (e instanceof Refused && e.status === 409) {
        askAnew(client, "unit", unit.id);
      }
    },
  });
  const refused = change.error instanceof Refused && change.error.status !== 409 ? change.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    change.mutate();
  };
  return (
    <form className="stack panel" onSubmit={submit}>
      <h2>About this unit</h2>
      <TextInput
        label="Name"
        value={name}
        maxLength={80}
        disabled={!maySave}
        onChange={(e) => setName(e.currentTarget.value)}
        error={refused?.at("/name")}
        required
      />
      <UnitKindSelect value={kind} onChange={setKind} disabled={!maySave} />
      <Textarea
        label="Notes"
        value={notes}
        maxLength={4000}
        autosize
        minRows={4}
        disabled={!maySave}
        onChange={(e) => setNotes(e.currentTarget.value)}
      />
      {behind && changed ? (
        <div className="stack" role="alert">
          <p className="trouble">Someone changed this unit meanwhile. It says now:</p>
          <p className="as-typed">
            <b>{unit.name}</b> · {unitKindWords[unit.kind]}
            {unit.notes && `\n${unit.notes}`}
          </p>
          <div className="row wrap">
            <Button
              variant="default"
              onClick={() => {
                setSeen(unit);
                change.reset();
              }}
            >
              Go on with mine
            </Button>
            <Button variant="default" onClick={() => follow(unit)}>
              Take theirs
            </Button>
          </div>
        </div>
      ) : (
        change.error && !refused && !behind && changed && <p className="trouble">{change.error.message}</p>
      )}
      {maySave && (
        <Button type="submit" disabled={!changed || behind || !name.trim()} loading={change.isPending}>
          Save
        </Button>
      )}
    </form>
  );
}
