import { Button, Modal, Progress } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type CatalogList, type CatalogName, type CatalogPreview, Refused, take } from "../api/client";
import { key } from "../api/keys";
import "./shop.css";

const actions = { add: "new", change: "changes", same: "as it is", fault: "wrong" };

type Props = {
  list: CatalogList;
  name: CatalogName;
  text: string;
  onClose: () => void;
  onTaken: () => void;
};

/** A file is looked at line by line before any of it is taken in. */
export function ImportFile({ list, name, text, onClose, onTaken }: Props) {
  const [token] = useState(() => crypto.randomUUID());
  const path = { params: { path: { list: name } } };
  const look = useQuery({
    queryKey: key.import(name, text),
    queryFn: () => take(api.POST("/catalog/{list}/csv", { ...path, body: { text } })),
    retry: false,
    gcTime: 0,
  });
  const keep = useMutation({
    mutationFn: () => take(api.POST("/catalog/{list}/csv", { ...path, body: { text, keep: true, token } })),
    onSuccess: (p) => {
      notifications.show({ message: `Imported: ${p.added} new, ${p.changed} changed.` });
      onTaken();
    },
  });
  const progress = useQuery({
    queryKey: key.progress(token),
    queryFn: () => take(api.GET("/catalog-imports/{token}", { params: { path: { token } } })),
    enabled: keep.isPending,
    refetchInterval: 400,
    retry: 5,
  });
  const p = look.data;
  const error = (keep.error ?? look.error) as Error | null;
  const total = p?.lines.length ?? 0;
  const share = progress.data?.total ? (100 * progress.data.done) / progress.data.total : 0;
  return (
    <Modal opened onClose={onClose} size="xl" title={`${list.name}: what the file would do`}>
      <div className="stack">
        {error && <Trouble error={error} />}
        {!p && !error && <p className="dim">Looking at the file …</p>}
        {p && (
          <>
            <p>
              <b>{p.added}</b> new, <b>{p.changed}</b> changed, {p.same} as they are
              {p.faulty > 0 && (
                <>
                  , <b className="trouble">{p.faulty} wrong</b>. All lines are imported, or none: fix these first.
                </>
              )}
            </p>
            <Lines list={list} lines={p.lines} />
            {p.added + p.changed + p.same + p.faulty > total && (
              <p className="dim">
                The first {total} of {p.added + p.changed + p.same + p.faulty} lines are shown.
              </p>
            )}
          </>
        )}
        {keep.isPending && <Progress value={share} animated aria-label="Importing" />}
        <div className="row">
          <Button
            disabled={!p || p.faulty > 0 || p.added + p.changed === 0}
            loading={keep.isPending}
            onClick={() => keep.mutate()}
            data-autofocus
          >
            Import
          </Button>
          <Button variant="default" onClick={onClose}>
            Cancel
          </Button>
        </div>
      </div>
    </Modal>
  );
}

function Trouble({ error }: { error: Error }) {
  const faults = error instanceof Refused ? error.faults.map((f) => f.message) : [];
  return (
    <div className="trouble" role="alert">
      <b>Nothing imported.</b>
      <ul>
        {(faults.length > 0 ? faults : [error.message]).slice(0, 30).map((f) => (
          <li key={f}>{f}</li>
        ))}
      </ul>
    </div>
  );
}

type Line = CatalogPreview["lines"][number];

/** What each line would do, those that are wrong first. */
function Lines({ list, lines }: { list: CatalogList; lines: Line[] }) {
  const wrongFirst = [...lines].sort(
    (a, b) => Number(b.action === "fault") - Number(a.action === "fault") || a.line - b.line,
  );
  return (
    <div className="scroll import-scroll">
      <table className="figures">
        <thead>
          <tr>
            <th>Line</th>
            <th>Does</th>
            {list.columns.map((c) => (
              <th key={c.key}>{c.name}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {wrongFirst.map((l) => (
            <tr key={l.line} className={l.action === "fault" ? "is-wrong" : ""}>
              <td className="num">{l.line}</td>
              <td>
                {actions[l.action]}
                {l.text && <small> {l.text}</small>}
                {l.faults.map((f) => (
                  <small key={f.field + f.message} className="trouble">
                    {f.field} {f.message}
                  </small>
                ))}
              </td>
              {list.columns.map((c) => (
                <td key={c.key}>{l.cells[c.key]}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
