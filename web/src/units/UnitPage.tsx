import { Button, Loader, Menu, Modal, NativeSelect, Textarea, TextInput } from "@mantine/core";
import { useDisclosure } from "@mantine/hooks";
import { notifications } from "@mantine/notifications";
import { IconChevronDown, IconDownload, IconGauge, IconPlus, IconRoute, IconWheel } from "@tabler/icons-react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, type HistoryEntry, type Kind, type Question, Refused, take, type Unit } from "../api/client";
import { useMaySave } from "../app/session";
import { useTitle } from "../app/title";
import { Line } from "../drawing/Line";
import { Signed } from "../format/Signed";
import { kindWords, unitKindWords } from "../format/words";
import { SignInFirst } from "../people/SignInFirst";
import { UnitKindSelect } from "./UnitKindSelect";

export function UnitPage() {
  const id = Number(useParams().id);
  const path = { params: { path: { id } } };
  const unit = useQuery({ queryKey: ["unit", id], queryFn: () => take(api.GET("/units/{id}", path)) });
  const history = useQuery({ queryKey: ["history", id], queryFn: () => take(api.GET("/units/{id}/history", path)) });
  const maySave = useMaySave();
  const [adding, add] = useDisclosure(false);
  useTitle(unit.data?.name);
  if (unit.error) return <SignInFirst error={unit.error} />;
  if (!unit.data) return <Loader m="xl" />;
  const u = unit.data;
  const doors = [
    { name: "Trace the power", icon: <IconRoute size={18} />, to: "trace" },
    ...(u.kind === "boat"
      ? []
      : [
          { name: "Tires and gears", icon: <IconWheel size={18} />, to: "regear" },
          { name: "Speedometer", icon: <IconGauge size={18} />, to: "speedometer" },
        ]),
  ];
  const document = {
    to: `/api/v1/units/${u.id}/document`,
    download: `${u.name}.json`,
    reloadDocument: true,
    leftSection: <IconDownload size={18} />,
  };
  return (
    <>
      <div className="band with-line">
        <div className="row spread">
          <h1>
            {u.name} <span>· {unitKindWords[u.kind]}</span>
          </h1>
          <div className="row wrap">
            {maySave && (
              <Button color="brass.4" autoContrast leftSection={<IconPlus size={18} />} onClick={add.open}>
                Add a stage
              </Button>
            )}
            {doors.map((d) => (
              <Button
                key={d.to}
                visibleFrom="sm"
                variant="default"
                leftSection={d.icon}
                component={Link}
                to={`/units/${u.id}/${d.to}`}
              >
                {d.name}
              </Button>
            ))}
            <Button visibleFrom="sm" variant="default" component={Link} {...document}>
              Document
            </Button>
            <Menu position="bottom-end">
              <Menu.Target>
                <Button hiddenFrom="sm" variant="default" rightSection={<IconChevronDown size={18} />}>
                  More
                </Button>
              </Menu.Target>
              <Menu.Dropdown>
                {doors.map((d) => (
                  <Menu.Item key={d.to} leftSection={d.icon} component={Link} to={`/units/${u.id}/${d.to}`}>
                    {d.name}
                  </Menu.Item>
                ))}
                <Menu.Item component={Link} {...document}>
                  Document
                </Menu.Item>
              </Menu.Dropdown>
            </Menu>
          </div>
        </div>
        {u.stages.length > 0 ? (
          <Line stages={u.stages} kind={u.kind} />
        ) : (
          <p className="empty-line">No stage in the line yet: add the first, from the engine outward.</p>
        )}
      </div>
      <main id="main" className="page two-columns">
        <section>
          <Decisions unit={u.id} />
          <h2>What happened</h2>
          <History entries={history.data ?? []} />
        </section>
        <UnitForm key={u.id} unit={u} maySave={maySave} />
      </main>
      {adding && <AddStage unit={u} onClose={add.close} />}
    </>
  );
}

const marks: Record<HistoryEntry["what"], string> = {
  unit_added: "+",
  unit_changed: "✎",
  stage_added: "+",
  stage_removed: "−",
  reading: "●",
  strike: "—",
  driveline: "⚙",
  regear: "✓",
  speedometer: "✓",
  calibration: "»",
  check: "≈",
};

function History({ entries }: { entries: HistoryEntry[] }) {
  return (
    <ol className="history">
      {entries.map((e, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: append-only, newest first
        <li key={entries.length - i} className={e.what}>
          <span className="mark" aria-hidden="true">
            {marks[e.what]}
          </span>
          <div>
            <div>
              {e.stage && e.what !== "stage_added" && e.what !== "stage_removed" && (
                <>
                  {e.stage_id ? <Link to={`/stages/${e.stage_id}`}>{e.stage}</Link> : e.stage}
                  {": "}
                </>
              )}
              {e.text}
            </div>
            <small className="dim">
              <Signed by={e.by} at={e.at} takenIn={e.taken_in} />
            </small>
          </div>
        </li>
      ))}
    </ol>
  );
}

/** What was decided, with its sheet where there is one. */
function Decisions({ unit }: { unit: number }) {
  const list = useQuery({
    queryKey: ["decisions", unit],
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
              {d.kind === "regear" && (
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
      client.setQueryData(["unit", u.id], u);
      follow(u);
      void client.invalidateQueries({ queryKey: ["history", u.id] });
      void client.invalidateQueries({ queryKey: ["units"] });
      notifications.show({ message: "Saved." });
    },
    onError: (e) => {
      if (e instanceof Refused && e.status === 409) {
        void client.invalidateQueries({ queryKey: ["unit", unit.id] });
        void client.invalidateQueries({ queryKey: ["history", unit.id] });
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

function AddStage({ unit, onClose }: { unit: Unit; onClose: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [kind, setKind] = useState<Kind>("ring_and_pinion");
  const [position, setPosition] = useState("high");
  const [gear, setGear] = useState("4");
  const [name, setName] = useState("");
  const [at, setAt] = useState(String(unit.stages.length));
  const question: Question = {
    kind,
    position: kind === "transfer_case" ? position : kind === "gearbox" ? gear : undefined,
  };
  const add = useMutation({
    mutationFn: () =>
      take(
        api.POST("/units/{id}/stages", {
          params: { path: { id: unit.id } },
          body: { name: name.trim() || kindWords[kind], question, at: Number(at) },
        }),
      ),
    onSuccess: (u) => {
      client.setQueryData(["unit", u.id], u);
      void client.invalidateQueries({ queryKey: ["history", u.id] });
      onClose();
      const added = u.stages[Number(at)];
      if (added) navigate(`/stages/${added.id}`);
    },
  });
  const refused = add.error instanceof Refused ? add.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    add.mutate();
  };
  return (
    <Modal opened onClose={onClose} title="Add a stage to the line">
      <form className="stack" onSubmit={submit}>
        <NativeSelect
          label="Kind of stage"
          value={kind}
          onChange={(e) => setKind(e.currentTarget.value as Kind)}
          data={Object.entries(kindWords).map(([value, label]) => ({ value, label }))}
          data-autofocus
        />
        {kind === "transfer_case" && (
          <NativeSelect
            label="Which ratio"
            value={position}
            onChange={(e) => setPosition(e.currentTarget.value)}
            data={[
              { value: "high", label: "high range" },
              { value: "low", label: "low range" },
              { value: "front", label: "front against rear" },
            ]}
          />
        )}
        {kind === "gearbox" && (
          <TextInput
            label="Which gear"
            value={gear}
            maxLength={10}
            onChange={(e) => setGear(e.currentTarget.value)}
            error={refused?.at("/position")}
            required
          />
        )}
        <TextInput
          label="Name"
          placeholder={kindWords[kind]}
          value={name}
          maxLength={80}
          onChange={(e) => setName(e.currentTarget.value)}
          error={refused?.at("/name")}
        />
        <NativeSelect
          label="Where in the line"
          value={at}
          onChange={(e) => setAt(e.currentTarget.value)}
          data={[
            { value: "0", label: "first, at the engine" },
            ...unit.stages.map((s, i) => ({ value: String(i + 1), label: `after ${s.name}` })),
          ]}
        />
        {add.error && !refused?.faults.length && <p className="trouble">{add.error.message}</p>}
        <Button type="submit" loading={add.isPending}>
          Add
        </Button>
      </form>
    </Modal>
  );
}
