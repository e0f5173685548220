import { Button, Modal, NativeSelect, Textarea, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { api, type Layout, Refused, take, type UnitKind } from "../api/client";
import { askAnew } from "../api/keys";
import { useLayouts } from "../machine/useLayouts";
import { UnitKindSelect } from "./UnitKindSelect";

/** A new unit, by how its power goes. */
export function AddUnit({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [kind, setKind] = useState<UnitKind>("truck");
  const [notes, setNotes] = useState("");
  const [layout, setLayout] = useState<string>();
  const layouts = useLayouts();
  const fits = (l: Layout) => (l.units.includes(kind) ? l.units.indexOf(kind) : l.units.length);
  const list = [...(layouts.data ?? [])].sort((a, b) => fits(a) - fits(b));
  const chosen = list.find((l) => l.id === layout) ?? list[0];
  const add = useMutation({
    mutationFn: () => take(api.POST("/units", { body: { name, kind, notes, layout: chosen?.id } })),
    onSuccess: (u) => {
      askAnew(client, "units");
      navigate(`/units/${u.id}`);
    },
  });
  const refused = add.error instanceof Refused ? add.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    add.mutate();
  };
  return (
    <Modal opened onClose={onClose} title="Add a unit">
      <form className="stack" onSubmit={submit}>
        <TextInput
          label="Name"
          placeholder="as the shop calls it"
          value={name}
          maxLength={80}
          onChange={(e) => setName(e.currentTarget.value)}
          error={refused?.at("/name") ?? (add.error && !refused ? add.error.message : undefined)}
          data-autofocus
          required
        />
        <UnitKindSelect
          value={kind}
          onChange={(k) => {
            setKind(k);
            setLayout(undefined);
          }}
        />
        <NativeSelect
          label="Layout"
          description={chosen?.for}
          value={chosen?.id ?? ""}
          onChange={(e) => setLayout(e.currentTarget.value)}
          error={refused?.at("/layout")}
          data={list.map((l) => ({ value: l.id, label: l.name }))}
        />
        <small className="dim">
          The closest will do: you can change, remove or add parts later. No ratio is known until it is measured.
        </small>
        <Textarea
          label="Notes"
          value={notes}
          maxLength={4000}
          autosize
          minRows={2}
          onChange={(e) => setNotes(e.currentTarget.value)}
        />
        <Button type="submit" loading={add.isPending} disabled={!chosen}>
          Add
        </Button>
      </form>
    </Modal>
  );
}
