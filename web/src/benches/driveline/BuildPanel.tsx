import { Button, Modal, NativeSelect, Switch, TextInput } from "@mantine/core";
import { IconArrowsExchange, IconPlus, IconTrash } from "@tabler/icons-react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Doc, type Part, type PartKind, type Refused, take } from "../../api/client";
import { key } from "../../api/keys";
import { useSession } from "../../app/session";
import { readFigure, readNumber, readTeeth, ValueField } from "../../fields/ValueField";
import { insertPart, partName, places, removal, setPart, swapPart } from "../../machine/document";
import { kinds, ratioNames } from "../../machine/parts";
import { type Field, fieldsOf, getField, setField, tidy } from "./fields";
import { SourceMark } from "./PowerPanel";

type Props = {
  doc: Doc;
  part?: string;
  refused?: Refused;
  mayWrite: boolean;
  broken: string[];
  onBroken: (parts: string[]) => void;
  onDoc: (d: Doc) => void;
  onPart: (id: string | undefined) => void;
  /** Opens the bench that measures a ratio, making the stage if need be. */
  onMeasure?: (p: Part, ratio: string) => void;
};

/** Parts along the line: what they are, what is known of them, insert, swap, remove. */
export function BuildPanel({ doc, part, refused, mayWrite, broken, onBroken, onDoc, onPart, onMeasure }: Props) {
  const p = doc.parts.find((q) => q.id === part);
  const [adding, setAdding] = useState(false);
  const [swapping, setSwapping] = useState(false);
  const [removing, setRemoving] = useState<Part[]>();
  const index = doc.parts.findIndex((q) => q.id === part);
  const remove = () => {
    const r = p && removal(doc, p.id);
    if (!r) return;
    if (r.gone.length > 1) setRemoving(r.gone);
    else {
      onDoc(r.doc);
      onPart(undefined);
    }
  };
  return (
    <div className="build-panel">
      <NativeSelect
        label="Part"
        value={part ?? ""}
        onChange={(e) => onPart(e.currentTarget.value || undefined)}
        data={[
          { value: "", label: "About the vehicle" },
          ...doc.parts.map((q) => ({ value: q.id, label: partName(q) })),
        ]}
      />
      <div className="row wrap">
        <Button
          size="compact-sm"
          variant="default"
          leftSection={<IconPlus size={14} />}
          onClick={() => setAdding(true)}
        >
          Insert
        </Button>
        {p && (
          <>
            <Button
              size="compact-sm"
              variant="default"
              leftSection={<IconArrowsExchange size={14} />}
              onClick={() => setSwapping(true)}
            >
              Swap
            </Button>
            <Button
              size="compact-sm"
              variant="default"
              leftSection={<IconTrash size={14} />}
              onClick={remove}
              disabled={!removal(doc, p.id)}
              title={removal(doc, p.id) ? undefined : "Without it nothing would be left to turn"}
            >
              Remove
            </Button>
          </>
        )}
      </div>
      {p && p.kind !== "engine" && (
        <Switch
          mt="xs"
          size="xs"
          label="Take it as broken: it passes nothing on"
          checked={broken.includes(p.id)}
          onChange={(e) => onBroken(e.currentTarget.checked ? [...broken, p.id] : broken.filter((x) => x !== p.id))}
        />
      )}
      {p ? (
        <PartForm
          key={p.id}
          part={p}
          at={`/driveline/parts/${index}`}
          refused={refused}
          onPart={(q) => onDoc(setPart(doc, q))}
          mayWrite={mayWrite}
          onMeasure={onMeasure}
        />
      ) : (
        <BodyForm doc={doc} refused={refused} onDoc={onDoc} />
      )}
      {adding && (
        <Insert
          doc={doc}
          onClose={() => setAdding(false)}
          onInsert={(port, kind) => {
            const r = insertPart(doc, port, kind);
            onDoc(r.doc);
            onPart(r.id);
            setAdding(false);
          }}
        />
      )}
      {swapping && p && (
        <Swap
          kind={p.kind}
          onClose={() => setSwapping(false)}
          onSwap={(from, source) => {
            onDoc(swapPart(doc, p.id, from, source));
            setSwapping(false);
          }}
        />
      )}
      <Modal opened={Boolean(removing)} onClose={() => setRemoving(undefined)} title="What hangs on it goes too">
        <p>{removing?.map(partName).join(", ")}</p>
        <Button
          color="red.8"
          onClick={() => {
            const r = p && removal(doc, p.id);
            if (r) onDoc(r.doc);
            onPart(undefined);
            setRemoving(undefined);
          }}
        >
          Remove {removing?.length} parts
        </Button>
      </Modal>
    </div>
  );
}

type FormProps = {
  part: Part;
  at: string;
  refused?: Refused;
  mayWrite: boolean;
  onPart: (p: Part) => void;
  onMeasure?: (p: Part, ratio: string) => void;
};

function PartForm({ part, at, refused, mayWrite, onPart, onMeasure }: FormProps) {
  const fault = (path: string) => refused?.field(`${at}/${part.kind}/${path.replaceAll(".", "/")}`);
  // What was read at the bench is changed at the bench, not here.
  const linked = (name: string) => Boolean(part.sources?.[name]?.stage && part.sources[name].probability);
  const atBench = linked("ratio");
  return (
    <div className="stack tight">
      <TextInput
        label="Name"
        size="xs"
        value={part.name ?? ""}
        maxLength={80}
        onChange={(e) => onPart({ ...part, name: e.currentTarget.value })}
      />
      <div className="part-fields">
        {fieldsOf[part.kind]
          .filter((f) => !f.when || f.when(part))
          .map((f) => (
            <FieldInput
              key={f.path}
              field={f}
              part={part}
              error={fault(f.path)}
              fixed={atBench && benchFields.has(f.path)}
              onPart={onPart}
            />
          ))}
        {part.kind === "axle" && (
          <>
            <Optional
              label="Second, planetary stage"
              on={Boolean(part.axle?.second)}
              onSet={(on) => onPart(setField(part, "second", on ? {} : undefined))}
            />
            <Optional
              label="Change gears ahead of the pinion"
              on={Boolean(part.axle?.change)}
              onSet={(on) => onPart(setField(part, "change", on ? {} : undefined))}
            />
          </>
        )}
        {["axle", "upper", "gearcase"].includes(part.kind) && (
          <NativeSelect
            size="xs"
            label="Mounted"
            value={part.mounting ?? "upright"}
            onChange={(e) => onPart({ ...part, mounting: e.currentTarget.value as Part["mounting"] })}
            data={[
              { value: "upright", label: "upright" },
              { value: "turned_over", label: "turned over" },
              { value: "end_for_end", label: "turned end for end" },
            ]}
          />
        )}
        {["gearbox", "transfer_case", "axle", "gearcase", "upper", "reverse_gear"].includes(part.kind) && (
          <NativeSelect
            size="xs"
            label="Shifted or locked through"
            value={part.actuation ?? ""}
            onChange={(e) => onPart({ ...part, actuation: (e.currentTarget.value || undefined) as Part["actuation"] })}
            data={[
              { value: "", label: "not known" },
              { value: "lever", label: "lever and fork" },
              { value: "cable", label: "cable" },
              { value: "motor", label: "motor" },
              { value: "air", label: "air" },
              { value: "vacuum", label: "vacuum" },
              { value: "hydraulic", label: "oil pressure" },
            ]}
          />
        )}
        {["gearbox", "transfer_case", "axle"].includes(part.kind) && (
          <TextInput
            size="xs"
            label="Family of its gears"
            title="As the shop's catalog names the sets that fit its housing"
            maxLength={60}
            value={part.family ?? ""}
            onChange={(e) => onPart({ ...part, family: e.currentTarget.value || undefined })}
          />
        )}
        {!["wheel", "propeller", "engine"].includes(part.kind) && (
          <NumberField
            label="Rated input torque, N·m"
            value={part.rated_nm}
            error={refused?.field(`${at}/rated_nm`)}
            onSet={(v) => onPart({ ...part, rated_nm: v })}
          />
        )}
      </div>
      {part.kind === "gearbox" && <Gears part={part} at={at} refused={refused} onPart={onPart} />}
      {ratioNames(part).length > 0 && (
        <table className="sources">
          <tbody>
            {ratioNames(part).map((n) => {
              const s = part.sources?.[n];
              return (
                <tr key={n}>
                  <td>{n === "ratio" ? "Its ratio is" : `${n}:`}</td>
                  <td>
                    {linked(n) ? (
                      <SourceMark kind={s?.kind ?? "unknown"} text={s?.text} probability={s?.probability} />
                    ) : (
                      <NativeSelect
                        size="xs"
                        aria-label={`Where ${n} came from`}
                        value={s?.kind ?? "unknown"}
                        onChange={(e) =>
                          onPart({
                            ...part,
                            sources: {
                              ...part.sources,
                              [n]: { kind: e.currentTarget.value as "plate", stage: s?.stage },
                            },
                          })
                        }
                        data={[
                          { value: "unknown", label: "not known" },
                          { value: "plate", label: "from the plate" },
                          { value: "assumed", label: "assumed" },
                          { value: "measured", label: "measured elsewhere" },
                        ]}
                      />
                    )}
                  </td>
                  <td>
                    {onMeasure && mayWrite && measurable(part, n) && (
                      <Button size="compact-xs" color="brass.4" autoContrast onClick={() => onMeasure(part, n)}>
                        {linked(n) ? "To the bench" : "Count it"}
                      </Button>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </div>
  );
}

export const measurable = (p: Part, ratio: string) =>
  p.kind !== "reverse_gear" &&
  p.kind !== "upper" &&
  !(p.kind === "gearbox" && p.gearbox?.arrangement !== "ratios") &&
  ratio !== "";

function Optional({ label, on, onSet }: { label: string; on: boolean; onSet: (on: boolean) => void }) {
  return <Switch size="xs" label={label} checked={on} onChange={(e) => onSet(e.currentTarget.checked)} />;
}

function NumberField({
  label,
  value,
  error,
  onSet,
}: {
  label: string;
  value?: number;
  error?: string;
  onSet: (v: number | undefined) => void;
}) {
  return (
    <ValueField
      size="xs"
      label={label}
      inputMode="decimal"
      value={value}
      read={readNumber}
      error={error}
      onSet={onSet}
    />
  );
}

const benchFields = new Set(["ring", "pinion", "ratio", "sun", "gear", "drive", "driven", "second.sun", "second.ring"]);

function FieldInput({
  field: f,
  part,
  error,
  fixed,
  onPart,
}: {
  field: Field;
  part: Part;
  error?: string;
  fixed?: boolean;
  onPart: (p: Part) => void;
}) {
  const value = getField(part, f.path);
  if (f.type === "choice") {
    return (
      <NativeSelect
        size="xs"
        label={f.label}
        value={String(value ?? f.options?.[0]?.value ?? "")}
        data={f.options ?? []}
        error={error}
        onChange={(e) => onPart(tidy(setField(part, f.path, e.currentTarget.value || undefined)))}
      />
    );
  }
  if (f.type === "yes") {
    return (
      <Switch
        size="xs"
        label={f.label}
        checked={Boolean(value)}
        onChange={(e) => onPart(setField(part, f.path, e.currentTarget.checked || undefined))}
      />
    );
  }
  const shared = {
    size: "xs",
    label: f.label,
    disabled: fixed,
    title: fixed ? "measured at the bench; change it there" : undefined,
    description: f.hint,
    error,
  } as const;
  if (f.type === "figure") {
    return (
      <ValueField
        {...shared}
        value={value === undefined || value === 0 ? undefined : String(value)}
        read={readFigure}
        onSet={(v) => onPart(setField(part, f.path, v))}
      />
    );
  }
  return (
    <ValueField
      {...shared}
      inputMode="decimal"
      value={value ? Number(value) : undefined}
      read={f.type === "teeth" ? readTeeth : readNumber}
      onSet={(v) => onPart(setField(part, f.path, v))}
    />
  );
}

/** The gears of a gearbox, a line each. */
function Gears({
  part,
  at,
  refused,
  onPart,
}: {
  part: Part;
  at: string;
  refused?: Refused;
  onPart: (p: Part) => void;
}) {
  const g = part.gearbox;
  if (!g) return null;
  const set = (i: number, change: Partial<(typeof g.gears)[number]>) =>
    onPart({ ...part, gearbox: { ...g, gears: g.gears.map((x, k) => (k === i ? { ...x, ...change } : x)) } });
  return (
    <table className="gears-edit">
      <thead>
        <tr>
          <th>Gear</th>
          {g.arrangement === "ratios" || !g.arrangement ? (
            <th>Ratio (− reverses)</th>
          ) : (
            <>
              <th>Drive</th>
              <th>Driven</th>
              <th>Idler</th>
            </>
          )}
          <th />
        </tr>
      </thead>
      <tbody>
        {g.gears.map((x, i) => {
          const fault = refused?.within(`${at}/gearbox/gears/${i}`);
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: gears are edited in place
            <tr key={i}>
              <td>
                <TextInput
                  size="xs"
                  w={48}
                  aria-label={`Name of gear ${i + 1}`}
                  value={x.name}
                  maxLength={10}
                  error={fault}
                  onChange={(e) => set(i, { name: e.currentTarget.value })}
                />
              </td>
              {g.arrangement === "ratios" || !g.arrangement ? (
                <td>
                  <ValueField
                    size="xs"
                    w={110}
                    aria-label={`Ratio of gear ${x.name}`}
                    value={x.ratio || undefined}
                    read={readFigure}
                    onSet={(ratio) => set(i, { ratio })}
                  />
                </td>
              ) : x.direct ? (
                <td colSpan={3}>direct</td>
              ) : (
                (["drive", "driven", "idler"] as const).map((k) => (
                  <td key={k}>
                    <ValueField
                      size="xs"
                      w={52}
                      aria-label={`${k} of gear ${x.name}`}
                      value={x[k] || undefined}
                      read={readTeeth}
                      onSet={(n) => set(i, { [k]: n })}
                    />
                  </td>
                ))
              )}
              <td>
                <button
                  type="button"
                  className="linklike"
                  aria-label={`Remove gear ${x.name}`}
                  onClick={() => onPart({ ...part, gearbox: { ...g, gears: g.gears.filter((_, k) => k !== i) } })}
                >
                  −
                </button>
              </td>
            </tr>
          );
        })}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={5}>
            <button
              type="button"
              className="linklike"
              onClick={() =>
                onPart({ ...part, gearbox: { ...g, gears: [...g.gears, { name: String(g.gears.length + 1) }] } })
              }
            >
              + a gear
            </button>
          </td>
        </tr>
      </tfoot>
    </table>
  );
}

function BodyForm({ doc, refused, onDoc }: { doc: Doc; refused?: Refused; onDoc: (d: Doc) => void }) {
  const fields = [
    ["wheelbase_mm", "Wheelbase, mm"],
    ["track_mm", "Track, mm"],
    ["mass_kg", "Mass, kg"],
    ["front_percent", "Weight on the front axle, %"],
    ["height_mm", "Height of the center of gravity, mm"],
  ] as const;
  return (
    <div className="stack tight">
      <TextInput
        label="Name of this driveline"
        size="xs"
        value={doc.name ?? ""}
        maxLength={80}
        onChange={(e) => onDoc({ ...doc, name: e.currentTarget.value })}
      />
      {doc.lies === "vehicle" && (
        <div className="part-fields">
          {fields.map(([k, label]) => (
            <NumberField
              key={k}
              label={label}
              value={doc.body?.[k]}
              error={refused?.at(`/body/${k}`)}
              onSet={(v) => onDoc({ ...doc, body: { ...doc.body, [k]: v } })}
            />
          ))}
        </div>
      )}
      <p className="dim">Corners need track and wheelbase; grip needs mass and where it rests.</p>
    </div>
  );
}

function Insert({
  doc,
  onClose,
  onInsert,
}: {
  doc: Doc;
  onClose: () => void;
  onInsert: (port: string, kind: PartKind) => void;
}) {
  const list = places(doc);
  const [port, setPort] = useState(list[0]?.port ?? "");
  const [kind, setKind] = useState<PartKind>("planetary");
  return (
    <Modal opened onClose={onClose} title="Insert a part">
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          onInsert(port, kind);
        }}
      >
        <NativeSelect
          label="Where"
          value={port}
          onChange={(e) => setPort(e.currentTarget.value)}
          data={list.map((x) => ({ value: x.port, label: x.words }))}
          data-autofocus
        />
        <NativeSelect
          label="What"
          value={kind}
          onChange={(e) => setKind(e.currentTarget.value as PartKind)}
          data={Object.entries(kinds)
            .filter(([k]) => k !== "engine")
            .map(([value, k]) => ({ value, label: k.words }))}
        />
        <Button type="submit">Insert</Button>
      </form>
    </Modal>
  );
}

function Swap({
  kind,
  onClose,
  onSwap,
}: {
  kind: PartKind;
  onClose: () => void;
  onSwap: (p: Part, source: string) => void;
}) {
  const person = useSession().data?.person;
  const parts = useQuery({
    queryKey: key.parts(kind),
    queryFn: () => take(api.GET("/parts", { params: { query: { kind } } })),
    enabled: Boolean(person),
  });
  return (
    <Modal opened onClose={onClose} title={`Swap for another ${kinds[kind].words.toLowerCase()}`}>
      {!person && <p>Sign in to choose from the shop's parts.</p>}
      {parts.data?.length === 0 && <p>The shop's catalog has none of this kind. Add it under Parts.</p>}
      <ul className="go-on">
        {parts.data?.map((s) => (
          <li key={s.id}>
            <button type="button" className="pick" onClick={() => onSwap(s.part, `catalog: ${s.name}`)}>
              <b>{s.name}</b>
              <small>
                {s.maker} · {s.notes}
              </small>
            </button>
          </li>
        ))}
      </ul>
    </Modal>
  );
}
