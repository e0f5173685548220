import { Alert, Button, Modal, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type Question, Refused, take, type UnitKind } from "../../api/client";
import { questionWords } from "../../format/words";
import { UnitKindSelect } from "../../units/UnitKindSelect";
import type { BenchReading } from "./model";

const same = (a: Question, b: Question) =>
  a.kind === b.kind && (a.position ?? "") === (b.position ?? "") && (a.held ?? "ring") === (b.held ?? "ring");

/** Says afterward what was counted: which unit, which place in its line. */
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
  const units = useQuery({ queryKey: ["units", ""], queryFn: () => take(api.GET("/units")) });
  const [unit, setUnit] = useState("");
  const [stage, setStage] = useState("");
  const [name, setName] = useState("");
  const [kind, setKind] = useState<UnitKind>("truck");
  const [stageName, setStageName] = useState(questionWords(question));
  const chosen = units.data?.find((u) => String(u.id) === unit);
  const fitting = chosen?.stages.filter((s) => same(s.question, question)) ?? [];
  const file = useMutation({
    mutationFn: async () => {
      let to = stage ? Number(stage) : 0;
      if (!to) {
        const added = chosen
          ? await take(
              api.POST("/units/{id}/stages", {
                params: { path: { id: chosen.id } },
                body: { name: stageName, question },
              }),
            )
          : await take(api.POST("/units", { body: { name, kind, stages: [{ name: stageName, question }] } }));
        to = added.stages[added.stages.length - 1].id;
        // A second try goes to the stage that exists by now.
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
    <Modal opened onClose={onClose} title="File these readings">
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
        {!chosen && (
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
        {fitting.length > 0 && (
          <NativeSelect
            label="Place in its line"
            value={stage}
            onChange={(e) => setStage(e.currentTarget.value)}
            data={[
              ...fitting.map((s) => ({ value: String(s.id), label: s.name })),
              { value: "", label: "a new place, last in the line" },
            ]}
          />
        )}
        {!stage && (
          <TextInput
            label="Call this place"
            placeholder="Rear axle"
            value={stageName}
            maxLength={80}
            onChange={(e) => setStageName(e.currentTarget.value)}
            required
          />
        )}
        {file.error && !refused?.at("/name") && <Alert color="red">{file.error.message}</Alert>}
        <Button type="submit" loading={file.isPending}>
          File {readings.length === 1 ? "1 reading" : `${readings.length} readings`}
        </Button>
      </form>
    </Modal>
  );
}
