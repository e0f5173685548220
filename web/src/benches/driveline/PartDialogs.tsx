import { Button, Modal, NativeSelect } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Doc, type Part, type PartKind, take } from "../../api/client";
import { key } from "../../api/keys";
import { useSession } from "../../app/session";
import { places } from "../../machine/document";
import { kinds } from "../../machine/parts";

export function Insert({
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

export function Swap({
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
