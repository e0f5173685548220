import { Alert, Button, Modal, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type Question, Refused, take, type UnitKind } from "../../api/client";
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
  const file = useMutation({
    mutationFn: async () => {
      let to = at?.id;
      if (!to) {
        const added = await take(api.POST("/units", { body: { name, kind, first: question } }));
        to = added.stages.find((s) => same(s.question, question))?.id;
        if (!to) throw new Error("The new unit has no part for this count.");
        // A second try goes to the unit that exists by now.
        setUnit(String(added.id));
        setStage(String(to));
        await units.refetch();
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
          <>
            <NativeSelect
              label="Where it was counted"
              value={at ? String(at.id) : ""}
              onChange={(e) => setStage(e.currentTarget.value)}
              data={[
                ...(at ? [] : [{ value: "", label: "tap the part, or pick it here" }]),
                ...places.map((s) => ({ value: String(s.id), label: s.name })),
              ]}
            />
            {line.data && chosen.data && (
              <UnitMachine
                small
                doc={line.data.document}
                stages={chosen.data.stages}
                chosen={at?.part}
                open={(p) => places.some((s) => s.part === p.id)}
                onPart={(part) => setStage(String(places.find((s) => s.part === part)?.id ?? ""))}
              />
            )}
          </>
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
