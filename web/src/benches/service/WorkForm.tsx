import { Autocomplete, Button, NativeSelect, SegmentedControl, Textarea, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type NewWork, Refused, take } from "../../api/client";
import { key } from "../../api/keys";
import { useKept } from "../../app/local";
import { typed } from "../../format/numbers";
import { partName } from "../../machine/document";
import { useUnit } from "../useUnit";
import classes from "./service.module.css";
import { entryKey } from "./states";

type Kind = NewWork["kind"];
const words: Partial<Record<Kind, string>> = {
  finding: "Found",
  work: "Done",
  note: "Note",
  meter: "Meter",
  service: "Served",
};

const blank = {
  kind: "",
  text: "",
  part: "",
  minutes: "",
  km: "",
  hours: "",
  sessions: "",
  meter: "",
  what: "",
  day: "",
};
type Form = typeof blank;

type Props = { unit: number; store: string; kinds: Kind[]; send: (body: NewWork) => Promise<unknown> };

/** One line to be entered; what is typed stays on this device until it was taken. */
export function WorkForm({ unit, store, kinds, send }: Props) {
  const [kept, keep] = useKept<Form>(store, blank);
  const form = { ...blank, ...kept };
  const kind = kinds.find((k) => k === form.kind) ?? kinds[0] ?? "note";
  const set = (v: Partial<Form>) => keep({ ...form, ...v });
  const [error, setError] = useState<Error>();
  const [sending, setSending] = useState(false);
  const figure = (s: string) => (s.trim() ? typed(s) : undefined);
  const bad = (["minutes", "km", "hours", "sessions"] as const).find((k) => Number.isNaN(figure(form[k]) ?? 0));
  const refused = error instanceof Refused ? error : undefined;
  const fields = { form, set, bad, refused };
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    if (bad) return;
    setSending(true);
    setError(undefined);
    const meter = kind === "meter";
    try {
      await send({
        key: entryKey(),
        kind,
        text: meter ? undefined : form.text,
        part: meter ? undefined : form.part || undefined,
        minutes: kind === "work" ? figure(form.minutes) : undefined,
        km: meter ? figure(form.km) : undefined,
        hours: meter ? figure(form.hours) : undefined,
        sessions: meter ? figure(form.sessions) : undefined,
        meter: (meter && form.meter) || undefined,
        what: kind === "service" ? form.what : undefined,
        done_at: form.day ? `${form.day}T12:00:00Z` : undefined,
      });
      keep({ ...blank, kind });
    } catch (err) {
      setError(err as Error);
    }
    setSending(false);
  };
  return (
    <form className={classes.form} onSubmit={submit}>
      <SegmentedControl
        fullWidth
        value={kind}
        onChange={(v) => set({ kind: v })}
        data={kinds.map((k) => ({ value: k, label: words[k] ?? k }))}
      />
      {kind === "meter" ? <Meter {...fields} /> : <Words {...fields} unit={unit} kind={kind} />}
      {(kind === "meter" || kind === "service") && (
        <TextInput
          type="date"
          label="On"
          description="today, if empty"
          value={form.day}
          onChange={(e) => set({ day: e.currentTarget.value })}
          error={refused?.within("/done_at")}
        />
      )}
      <Button type="submit" variant="default" loading={sending}>
        Enter
      </Button>
      {error && !(refused && refused.faults.length > 0) && <p className="trouble">{error.message}</p>}
    </form>
  );
}

type Figure = "minutes" | "km" | "hours" | "sessions";
type FieldsProps = { form: Form; set: (v: Partial<Form>) => void; bad?: Figure; refused?: Refused };

function NumberField({ form, set, bad, refused, label, of }: FieldsProps & { label: string; of: Figure }) {
  return (
    <TextInput
      label={label}
      inputMode="decimal"
      autoComplete="off"
      value={form[of]}
      onChange={(e) => set({ [of]: e.currentTarget.value })}
      error={bad === of ? "a figure, like 1250" : refused?.within(`/${of}`)}
    />
  );
}

/** What the meters read. */
function Meter(p: FieldsProps) {
  return (
    <div className={classes.fields}>
      <NumberField {...p} label="Odometer, km" of="km" />
      <NumberField {...p} label="Hours" of="hours" />
      <NumberField {...p} label="Sessions" of="sessions" />
      <NativeSelect
        label="The meter reads less than before"
        data={[
          { value: "", label: "no" },
          { value: "replaced", label: "meter replaced" },
          { value: "rolled_over", label: "it rolled over" },
        ]}
        value={p.form.meter}
        onChange={(e) => p.set({ meter: e.currentTarget.value })}
        error={p.refused?.within("/meter")}
      />
    </div>
  );
}

/** What was found, done or served, and where. */
function Words(p: FieldsProps & { unit: number; kind: Kind }) {
  const { form, set, refused, kind } = p;
  const { line } = useUnit(p.unit);
  const service = useService(p.unit);
  return (
    <>
      {kind === "service" && (
        <Autocomplete
          label="Service done"
          data={service.data?.whats ?? []}
          value={form.what}
          onChange={(v) => set({ what: v })}
          error={refused?.within("/what")}
        />
      )}
      <Textarea
        label={{ finding: "Findings", work: "Correction", service: "Note" }[kind as string] ?? "Note"}
        autosize
        minRows={2}
        maxLength={2000}
        value={form.text}
        onChange={(e) => set({ text: e.currentTarget.value })}
        error={refused?.within("/text")}
      />
      <div className={classes.fields}>
        <NativeSelect
          label="At"
          data={[
            { value: "", label: "the whole unit" },
            ...(line?.document.parts ?? []).map((x) => ({ value: x.id, label: partName(x) })),
          ]}
          value={form.part}
          onChange={(e) => set({ part: e.currentTarget.value })}
          error={refused?.within("/part")}
        />
        {kind === "work" && <NumberField {...p} label="Minutes" of="minutes" />}
      </div>
    </>
  );
}

/** What is due on a unit, its meters, and what can be served. */
export const useService = (unit: number) =>
  useQuery({
    queryKey: key.service(unit),
    queryFn: () => take(api.GET("/units/{id}/service", { params: { path: { id: unit } } })),
  });
