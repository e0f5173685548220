import { Alert, Button, Modal, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type Question, Refused, take, type Unit, type UnitDriveline, type UnitKind } from "../../api/client";
import { key } from "../../api/keys";
import { questionWords } from "../../format/words";
import { UnitMachine } from "../../machine/UnitMachine";
import { UnitKindSelect } from "../../units/UnitKindSelect";
import type { BenchReading } from "./model";

const same = (a: Question, b: Question) =>
  a.kind === b.kind && (a.position ?? "") === (b.position ?? "") && (a.held ?? "ring") === (b.held ?? "ring");

/** Says afterward what was counted: which unit, and which part of its machine. */
export function FileDialog({
  question,
  readings,
  onClose,
  onFiled,
}: {
  question: Question;
  readings: BenchReading[];
  onClose: () => void;
  onFiled: (stage: number) => void;
}) {
  const units = useQuery({ queryKey: key.units(""), queryFn: () => take(api.GET("/units")) });
  const [unit, setUnit] = useState("");
  const [stage, setStage] = useState("");
  const [name, setName] = useState("");
  const [kind, setKind] = useState<UnitKind>("truck");
  const chosen = useQuery({
    queryKey: key.unit(Number(unit)),
    queryFn: () => take(api.GET("/units/{id}", { params: { path: { id: Number(unit) } } })),
    enabled: unit !== "",
  });
  const line = useQuery({
    queryKey: key.driveline(Number(unit)),
    queryFn: () => take(api.GET("/units/{id}/driveline", { params: { path: { id: Number(unit) } } })),
    enabled: unit !== "",
  });
  const places = (unit && chosen.data?.stages.filter((s) => s.present && same(s.question, question))) || [];
  const at = places.find((s) => String(s.id) === stage) ?? (places.length === 1 ? places[0] : undefined);
  const file = useFiling({
    readings,
    at: at?.id,
    add: () => ({ name, kind, first: question }),
    onAdded: async (added, to) => {
      setUnit(String(added));
      setStage(String(to));
      await units.refetch();
    },
    onFiled,
  });
  const refused = file.error instanceof Refused ? file.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    file.mutate();
  };
  return (
    <Modal opened onClose={onClose} title="File these readings" size="lg">
      <form className="stack" onSubmit={submit}>
        <NativeSelect
          label="Unit"
          value={unit}
          onChange={(e) => {
            setUnit(e.currentTarget.value);
            setStage("");
          }}
          data={[
            { value: "", label: "a new unit" },
            ...(units.data ?? []).map((u) => ({ value: String(u.id), label: u.name })),
          ]}
        />
        {!unit && (
          <div className="two">
            <TextInput
              label="Its name"
              placeholder="as the shop calls it"
              value={name}
              maxLength={80}
              onChange={(e) => setName(e.currentTarget.value)}
              error={refused?.at("/name")}
              required
            />
            <UnitKindSelect value={kind} onChange={setKind} />
          </div>
        )}
        {unit && places.length > 0 && (
          <WhereCounted unit={chosen.data} line={line.data} places={places} at={at} onStage={setStage} />
        )}
        {unit && chosen.data && places.length === 0 && (
          <Alert color="brass">
            No part of {chosen.data.name} is counted as {questionWords(question).toLowerCase()}. Change its driveline
            under Trace, Build; these readings wait here.
          </Alert>
        )}
        {file.error && !refused?.at("/name") && <Alert color="red">{file.error.message}</Alert>}
        <Button type="submit" loading={file.isPending} disabled={unit !== "" && !at}>
          File {readings.length === 1 ? "1 reading" : `${readings.length} readings`}
        </Button>
      </form>
    </Modal>
  );
}

interface Where {
  unit?: Unit;
  line?: UnitDriveline;
  places: Unit["stages"];
  at?: Unit["stages"][number];
  onStage: (id: string) => void;
}

/** The part on which it was counted, by name or on the machine. */
function WhereCounted({ unit, line, places, at, onStage }: Where) {
  return (
    <>
      <NativeSelect
        label="Where it was counted"
        value={at ? String(at.id) : ""}
        onChange={(e) => onStage(e.currentTarget.value)}
        data={[
          ...(at ? [] : [{ value: "", label: "tap the part, or pick it here" }]),
          ...places.map((s) => ({ value: String(s.id), label: s.name })),
        ]}
      />
      {line && unit && (
        <UnitMachine
          small
          doc={line.document}
          stages={unit.stages}
          chosen={at?.part}
          open={(p) => places.some((s) => s.part === p.id)}
          onPart={(part) => onStage(String(places.find((s) => s.part === part)?.id ?? ""))}
        />
      )}
    </>
  );
}

interface Filing {
  readings: BenchReading[];
  /** The ratio that they are filed to; a new unit's where there is none. */
  at?: number;
  add: () => { name: string; kind: UnitKind; first: Question };
  onAdded: (unit: number, stage: number) => Promise<void>;
  onFiled: (stage: number) => void;
}

/** Sends readings that were counted loose to a ratio of a unit, with what was voided among them. */
function useFiling({ readings, at, add, onAdded, onFiled }: Filing) {
  return useMutation({
    mutationFn: async () => {
      let to = at;
      if (!to) {
        const added = await take(api.POST("/units", { body: add() }));
        to = added.stages.find((s) => same(s.question, add().first))?.id;
        if (!to) throw new Error("The new unit has no part for this count.");
        // A second try goes to the unit that exists by now.
        await onAdded(added.id, to);
      }
      const record = await take(
        api.POST("/stages/{id}/readings", {
          params: { path: { id: to } },
          body: { readings: readings.map((r) => ({ reading: r.reading, note: r.note, blind: r.blind, key: r.key })) },
        }),
      );
      const sent = record.readings.slice(-readings.length);
      for (const [i, r] of readings.entries()) {
        if (r.struck && sent[i] && !sent[i].struck) {
          await take(
            api.POST("/readings/{id}/strike", {
              params: { path: { id: sent[i].id } },
              body: { reason: r.struck.reason },
            }),
          );
        }
      }
      return to;
    },
    onSuccess: onFiled,
  });
}
