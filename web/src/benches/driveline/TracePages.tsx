import { Button, Loader, Modal } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { blocking } from "../../api/blocking";
import { api, type Doc, type Layout, type Part, reason, type SavedState, take } from "../../api/client";
import { askAnew, key } from "../../api/keys";
import { keep, kept, useKept } from "../../app/local";
import { useMaySave } from "../../app/session";
import { useTitle } from "../../app/title";
import { partName } from "../../machine/document";
import { useLayouts } from "../../machine/useLayouts";
import { SignInFirst } from "../../people/SignInFirst";
import { TraceBench } from "./TraceBench";
import "./driveline.css";

/** Ready drivelines; with the figures of an example, or with nothing known yet. */
function LayoutPicker({ onPick }: { onPick: (d: Doc) => void }) {
  const layouts = useLayouts();
  const [chosen, setChosen] = useState<Layout>();
  if (!layouts.data) return <Loader m="xl" />;
  return (
    <>
      <ul className="layouts">
        {layouts.data.map((l) => (
          <li key={l.id}>
            <button type="button" onClick={() => setChosen(l)}>
              <b>{l.name}</b>
              <small>{l.for}</small>
              <LineSketch doc={l.document} />
            </button>
          </li>
        ))}
      </ul>
      <Modal opened={Boolean(chosen)} onClose={() => setChosen(undefined)} title={chosen?.name}>
        <div className="stack">
          <p>Start with example figures, marked assumed, or with nothing known: ratios come as you measure them.</p>
          <Button onClick={() => chosen && onPick(chosen.blank)} data-autofocus>
            Nothing known yet
          </Button>
          <Button variant="default" onClick={() => chosen && onPick(chosen.document)}>
            With example figures
          </Button>
        </div>
      </Modal>
    </>
  );
}

/** The parts of a layout in a line of words. */
function LineSketch({ doc }: { doc: Doc }) {
  return (
    <span className="sketch">
      {doc.parts
        .filter((p) => p.kind !== "wheel" && p.kind !== "shaft")
        .map((p) => (
          <span key={p.id}>{partName(p)}</span>
        ))}
    </span>
  );
}

type Draft = { doc: Doc; base: number } | null;
const noDraft: Draft = null;

/** A unit's driveline. */
export function UnitTracePage() {
  const id = Number(useParams().id);
  const path = { params: { path: { id } } };
  const client = useQueryClient();
  const navigate = useNavigate();
  const maySave = useMaySave();
  const unit = useQuery({ queryKey: key.unit(id), queryFn: () => take(api.GET("/units/{id}", path)) });
  const line = useQuery({ queryKey: key.driveline(id), queryFn: () => take(api.GET("/units/{id}/driveline", path)) });
  useTitle("Power", unit.data?.name);
  const store = `zorvel.driveline.${id}`;
  // What isn't kept on the server yet survives a reload on this device.
  const [draft, setDraft] = useKept<Draft>(store, noDraft);
  const saved = line.data;
  const save = useMutation({
    mutationFn: ({ doc, states }: { doc: Doc; states: SavedState[] }) =>
      take(
        api.PUT("/units/{id}/driveline", {
          ...path,
          body: { document: doc, states, base: draft?.base ?? saved?.version ?? 0 },
        }),
      ),
    onSuccess: (d) => {
      keep(store, undefined);
      client.setQueryData(key.driveline(id), d);
      askAnew(client, "unit", id);
      notifications.show({ message: "Driveline saved with the unit." });
    },
    onError: (e) => {
      notifications.show({ color: "red", title: "Not saved", message: reason(e), autoClose: 12_000 });
    },
  });
  const base = saved?.version ?? 0;
  const savedDoc = saved?.document;
  const onChange = useCallback(
    (d: Doc) => {
      const same = JSON.stringify(d) === JSON.stringify(savedDoc);
      if (same) keep(store, undefined);
      else if (JSON.stringify(kept<Draft>(store, null)?.doc) !== JSON.stringify(d))
        setDraft((o) => ({ doc: d, base: o?.base ?? base }));
    },
    [savedDoc, store, base, setDraft],
  );
  const stop = blocking(unit, line);
  if (stop) return <SignInFirst error={stop} />;
  if (!unit.data || !saved) return <Loader m="xl" />;
  const u = unit.data;
  const title = (
    <>
      <Link to={`/units/${u.id}`}>{u.name}</Link>
      <span> · power</span>
    </>
  );
  const doc = draft?.doc ?? saved.document;
  const stageOf = (d: Doc, part: string, ratio: string) => d.parts.find((q) => q.id === part)?.sources?.[ratio]?.stage;
  // A ratio is measured at its bench; a part that isn't kept yet is kept first.
  const measure = async (p: Part, ratio: string, d: Doc) => {
    let at = stageOf(d, p.id, ratio);
    if (!at) {
      const after = await save.mutateAsync({ doc: d, states: saved.states }).catch(() => undefined);
      at = after && stageOf(after.document, p.id, ratio);
    }
    if (at) navigate(`/stages/${at}`);
  };
  return (
    <TraceBench
      key={`${id} ${JSON.stringify(savedDoc)}`}
      title={title}
      name={u.name}
      doc={doc}
      states={saved.states}
      mayWrite={maySave}
      dirty={Boolean(draft)}
      saving={save.isPending}
      onChange={onChange}
      onSave={(d, states) => save.mutate({ doc: d, states })}
      onMeasure={measure}
    />
  );
}

/** A driveline of no unit: pick a layout and try. Nothing is stored on the server. */
export function LooseTracePage() {
  useTitle("Trace");
  const [doc, setDoc] = useKept<Doc | null>("zorvel.driveline.loose", null);
  const [query] = useSearchParams();
  const layouts = useLayouts();
  const wanted = query.get("layout");
  const shown = layouts.data?.find((l) => l.id === wanted)?.document ?? doc;
  const onChange = useCallback((d: Doc) => keep("zorvel.driveline.loose", d), []);
  const [n, setN] = useState(0);
  if (wanted && !layouts.data) return <Loader m="xl" />;
  if (!shown) {
    return (
      <main id="main" className="page">
        <h1>Where does the power go?</h1>
        <p>
          Pick a layout, set the levers, hold a wheel, turn a flange. It stays on this device until you save it with a
          unit.
        </p>
        <LayoutPicker onPick={setDoc} />
      </main>
    );
  }
  return (
    <TraceBench
      key={n}
      title={<span>{shown.name ?? "Driveline"}</span>}
      name={shown.name ?? "driveline"}
      doc={shown}
      states={[]}
      mayWrite={false}
      onChange={onChange}
      extra={
        <Button
          variant="default"
          onClick={() => {
            keep("zorvel.driveline.loose", undefined);
            window.history.replaceState(null, "", "/trace");
            setDoc(null);
            setN(n + 1);
          }}
        >
          Another layout
        </Button>
      }
    />
  );
}
