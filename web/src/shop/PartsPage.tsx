import { Button, NativeSelect, TextInput, VisuallyHidden } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { IconDownload } from "@tabler/icons-react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { blocking } from "../api/blocking";
import { api, type Part, type PartKind, Refused, type ShopPart, take } from "../api/client";
import { askAnew, key } from "../api/keys";
import { useMaySave } from "../app/session";
import { undoable } from "../app/undo";
import { kinds } from "../machine/parts";
import { SignInFirst } from "../people/SignInFirst";

const figures = (p: Part): string => kinds[p.kind].summary?.(p) ?? "";

/** What a part is sent and saved as. */
const sent = ({ maker, name, notes, part }: ShopPart) => ({ maker, name, notes, part });

/** The shop's parts, and what changes them. */
function useParts() {
  const client = useQueryClient();
  const parts = useQuery({ queryKey: key.parts(), queryFn: () => take(api.GET("/parts")) });
  const refresh = (list: ShopPart[]) => {
    client.setQueryData(key.parts(), list);
    askAnew(client, "parts");
  };
  const back = async (p: ShopPart) => refresh(await take(api.POST("/parts", { body: { parts: [sent(p)] } })));
  const remove = useMutation({
    mutationFn: (p: ShopPart) => take(api.DELETE("/parts/{id}", { params: { path: { id: p.id } } })),
    onSuccess: (_, p) => {
      askAnew(client, "parts");
      undoable(`${p.name} removed.`, () => back(p), "Undo");
    },
  });
  const bring = async (file: File) => {
    const text = await file.text();
    const before = parts.data?.length ?? 0;
    const list = file.name.endsWith(".json")
      ? await take(api.POST("/parts", { body: { parts: JSON.parse(text) } }))
      : await take(api.POST("/parts/csv", { body: { text } }));
    refresh(list);
    notifications.show({ message: `${list.length - before} parts imported.` });
  };
  return { parts, remove: remove.mutate, bring };
}

/** Why a file was not taken, a line each. */
function reasons(e: unknown): string[] {
  if (!(e instanceof Refused)) return [e instanceof SyntaxError ? "This file is not JSON." : (e as Error).message];
  if (e.faults.length === 0) return [e.message];
  return e.faults.map((f) => (f.field === "/text" ? f.message : `${f.field}: ${f.message}`));
}

function saveJSON(parts: ShopPart[]) {
  const a = document.createElement("a");
  a.href = `data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(parts.map(sent), null, 1))}`;
  a.download = "parts.json";
  a.click();
}

/** The shop's gearboxes, cases, axles and gearcases. */
export function PartsPage() {
  const maySave = useMaySave();
  const [search, setSearch] = useState("");
  const [kind, setKind] = useState("");
  const [faults, setFaults] = useState<string[]>([]);
  const { parts, remove, bring } = useParts();
  const stop = blocking(parts);
  if (stop) return <SignInFirst error={stop} />;
  const word = search.trim().toLowerCase();
  const list = parts.data?.filter(
    (p) => (!kind || p.part.kind === kind) && (!word || `${p.name} ${p.maker} ${p.notes}`.toLowerCase().includes(word)),
  );
  return (
    <main id="main" className="page shop">
      <div className="row spread wrap">
        <h2>Driveline parts</h2>
        <div className="row wrap">
          <TextInput
            aria-label="Search parts"
            placeholder="Search"
            value={search}
            onChange={(e) => setSearch(e.currentTarget.value)}
          />
          <NativeSelect
            aria-label="Kind"
            value={kind}
            onChange={(e) => setKind(e.currentTarget.value)}
            data={[
              { value: "", label: "every kind" },
              ...Object.entries(kinds).map(([value, k]) => ({ value, label: k.words })),
            ]}
          />
          <Files
            onJSON={() => saveJSON(parts.data ?? [])}
            onFile={
              maySave
                ? (file) => {
                    setFaults([]);
                    bring(file).catch((e: unknown) => setFaults(reasons(e)));
                  }
                : undefined
            }
          />
        </div>
      </div>
      <p className="dim">
        What a driveline's parts can be swapped for. Export and import as CSV or JSON: all lines of a file, or none.
      </p>
      {faults.length > 0 && (
        <div className="trouble" role="alert">
          <b>Nothing imported.</b>
          <ul>
            {faults.slice(0, 20).map((f) => (
              <li key={f}>{f}</li>
            ))}
          </ul>
        </div>
      )}
      <div className="scroll">
        <PartsTable parts={list ?? []} onRemove={maySave ? remove : undefined} />
      </div>
      {list?.length === 0 && <p className="dim">Nothing of this kind or name.</p>}
    </main>
  );
}

/** Out as CSV and JSON, and in again. */
function Files({ onJSON, onFile }: { onJSON: () => void; onFile?: (file: File) => void }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button
        component="a"
        href="/api/v1/parts/csv"
        download="parts.csv"
        variant="default"
        leftSection={<IconDownload size={16} />}
      >
        CSV
      </Button>
      <Button variant="default" onClick={onJSON} leftSection={<IconDownload size={16} />}>
        JSON
      </Button>
      {onFile && (
        <>
          <input
            ref={input}
            type="file"
            accept=".csv,.json,text/csv,application/json"
            hidden
            aria-label="Parts file"
            onChange={(e) => {
              const file = e.currentTarget.files?.[0];
              if (file) onFile(file);
              e.currentTarget.value = "";
            }}
          />
          <Button onClick={() => input.current?.click()}>Import a file</Button>
        </>
      )}
    </>
  );
}

function PartsTable({ parts, onRemove }: { parts: ShopPart[]; onRemove?: (p: ShopPart) => void }) {
  return (
    <table className="figures">
      <thead>
        <tr>
          <th>Part</th>
          <th>Kind</th>
          <th>Maker</th>
          <th>Figures</th>
          <th>Rated, N·m</th>
          <th>Notes</th>
          <th>
            <VisuallyHidden>Do</VisuallyHidden>
          </th>
        </tr>
      </thead>
      <tbody>
        {parts.map((p) => (
          <tr key={p.id}>
            <td>
              <b>{p.name}</b>
            </td>
            <td>{kinds[p.part.kind as PartKind].words}</td>
            <td>{p.maker}</td>
            <td>{figures(p.part)}</td>
            <td className="num">{p.part.rated_nm ?? ""}</td>
            <td>
              <small>{p.notes}</small>
            </td>
            <td>
              {onRemove && (
                <button type="button" className="linklike" onClick={() => onRemove(p)} aria-label={`Remove ${p.name}`}>
                  Remove
                </button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
