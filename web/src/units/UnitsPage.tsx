import { Button, Modal, NativeSelect, Textarea, TextInput } from "@mantine/core";
import { useDebouncedValue, useDisclosure, useHotkeys } from "@mantine/hooks";
import { notifications } from "@mantine/notifications";
import { IconPlus } from "@tabler/icons-react";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, type Layout, Refused, reason, take, type UnitKind } from "../api/client";
import { key } from "../api/keys";
import { useMaySave } from "../app/session";
import { useTitle } from "../app/title";
import { StageGlyph } from "../drawing/StageGlyph";
import { StateMark } from "../drawing/StateMark";
import { percent, when } from "../format/numbers";
import { unitKindWords } from "../format/words";
import { useLayouts } from "../machine/useLayouts";
import { SignInFirst } from "../people/SignInFirst";
import { UnitKindSelect } from "./UnitKindSelect";
import "./units.css";

export function UnitsPage() {
  useTitle("Units");
  const [search, setSearch] = useState("");
  const [asked] = useDebouncedValue(search.trim(), 200);
  const [adding, add] = useDisclosure(false);
  const maySave = useMaySave();
  const box = useRef<HTMLInputElement>(null);
  useHotkeys([["/", () => box.current?.focus()]]);
  const units = useQuery({
    queryKey: key.units(asked),
    queryFn: () => take(api.GET("/units", { params: { query: asked ? { search: asked } : {} } })),
    placeholderData: keepPreviousData,
  });
  if (units.error) return <SignInFirst error={units.error} />;
  return (
    <main id="main" className="page">
      <div className="row spread">
        <h1>Units</h1>
        <div className="row">
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
      {units.data?.length === 0 && (
        <p className="dim">
          {asked ? `Nothing on record begins with all of "${asked}".` : "No units yet. Count something, or add one."}
        </p>
      )}
      <ul className="unit-list">
        {units.data?.map((u) => (
          <li key={u.id}>
            <Link to={`/units/${u.id}`}>
              <span className="unit-name">
                <b>{u.name}</b>
                <small>
                  {unitKindWords[u.kind]} · {when(u.changed_at)}
                </small>
              </span>
              <span className="unit-stages">
                {u.stages.map((s) => (
                  <span key={s.id} className={`mini is-${s.state}`}>
                    <StageGlyph kind={s.question.kind} width={48} />
                    <span>
                      <small>{s.name}</small>
                      <b>
                        {s.label?.label ?? "?"} {s.label && <small>{percent(s.label.probability)}</small>}
                      </b>
                      {s.trouble ? <small className="trouble">{s.trouble}</small> : <StateMark state={s.state} />}
                    </span>
                  </span>
                ))}
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {adding && <AddUnit onClose={add.close} />}
    </main>
  );
}

function AddUnit({ onClose }: { onClose: () => void }) {
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
      void client.invalidateQueries({ queryKey: key.units() });
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
          label="How its power goes"
          description={chosen?.for}
          value={chosen?.id ?? ""}
          onChange={(e) => setLayout(e.currentTarget.value)}
          error={refused?.at("/layout")}
          data={list.map((l) => ({ value: l.id, label: l.name }))}
        />
        <small className="dim">
          The nearest will do: every part can be changed, taken out or put in afterward. Nothing of it is known until it
          is measured.
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

function ImportButton() {
  const navigate = useNavigate();
  const client = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const take_in = async (file: File | undefined) => {
    if (!file) return;
    try {
      const unit = await take(api.POST("/units/import", { body: JSON.parse(await file.text()) }));
      void client.invalidateQueries({ queryKey: key.units() });
      navigate(`/units/${unit.id}`);
    } catch (e) {
      const message = e instanceof SyntaxError ? "This file is no JSON document." : reason(e);
      notifications.show({ color: "red", title: "Nothing was taken in", message, autoClose: 12_000 });
    }
  };
  return (
    <>
      <input
        ref={input}
        type="file"
        accept="application/json,.json"
        hidden
        onChange={(e) => {
          void take_in(e.currentTarget.files?.[0]);
          e.currentTarget.value = "";
        }}
      />
      <Button variant="default" onClick={() => input.current?.click()}>
        Take in a document
      </Button>
    </>
  );
}
