import { Button, Loader, Modal } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, type Doc, type Layout, type Part, Refused, type SavedState, take, type UnitKind } from "../../api/client";
import { keep, kept, useKept } from "../../app/local";
import { useMaySave } from "../../app/session";
import { useTitle } from "../../app/title";
import { SignInFirst } from "../../people/SignInFirst";
import { partName } from "./document";
import { TraceBench } from "./TraceBench";

const useLayouts = () =>
  useQuery({
    queryKey: ["layouts"],
    queryFn: () => take(api.GET("/calc/layouts")),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** Ready drivelines; with the figures of an example, or with nothing known yet. */
export function LayoutPicker({ kind, onPick }: { kind?: UnitKind; onPick: (d: Doc) => void }) {
  const layouts = useLayouts();
  const [chosen, setChosen] = useState<Layout>();
  if (!layouts.data) return <Loader m="xl" />;
  const fits = (l: Layout) => (kind && l.units.includes(kind) ? 0 : 1);
  const list = [...layouts.data].sort((a, b) => fits(a) - fits(b));
  return (
    <>
      <ul className="layouts">
        {list.map((l) => (
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
          <p>
            Begin with the figures of an example, marked assumed, or with nothing known: ratios come as you measure
            them.
          </p>
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
  const unit = useQuery({ queryKey: ["unit", id], queryFn: () => take(api.GET("/units/{id}", path)) });
  const line = useQuery({ queryKey: ["driveline", id], queryFn: () => take(api.GET("/units/{id}/driveline", path)) });
  useTitle("Power", unit.data?.name);
  const store = `zorvel.driveline.${id}`;
  // What isn't kept on the server yet survives a reload on this device.
  const [draft, setDraft] = useKept<Draft>(store, noDraft);
  const saved = line.data;
  const save = useMutation({
    mutationFn: ({ doc, states, link }: { doc: Doc; states: SavedState[]; link?: boolean }) =>
      take(
        api.PUT("/units/{id}/driveline", {
          ...path,
          body: { document: doc, states, base: draft?.base ?? saved?.version ?? 0, link },
        }),
      ),
    onSuccess: (d) => {
      keep(store, undefined);
      client.setQueryData(["driveline", id], d);
      void client.invalidateQueries({ queryKey: ["history", id] });
      notifications.show({ message: "The driveline is kept with the unit." });
    },
    onError: (e) => {
      const where = e instanceof Refused && e.faults[0] ? `${e.faults[0].field}: ${e.faults[0].message}` : e.message;
      notifications.show({ color: "red", title: "Not kept", message: where, autoClose: 12_000 });
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
  if (unit.error || line.error) return <SignInFirst error={(unit.error ?? line.error) as Error} />;
  if (!unit.data || !saved) return <Loader m="xl" />;
  const u = unit.data;
  const title = (
    <>
      <Link to={`/units/${u.id}`}>{u.name}</Link>
      <span> · power</span>
    </>
  );
  const doc = draft?.doc ?? savedDoc;
  if (!doc) {
    return (
      <>
        <div className="band">
          <h1>{title}</h1>
        </div>
        <main id="main" className="page">
          <h1>How is it laid out?</h1>
          <p>Pick the nearest; every part can be changed, taken out or put in afterward.</p>
          {maySave ? (
            <LayoutPicker kind={u.kind} onPick={(d) => save.mutate({ doc: d, states: [], link: true })} />
          ) : (
            <p className="dim">This unit has no driveline yet; a technician can begin one.</p>
          )}
        </main>
      </>
    );
  }
  // A ratio is measured at a stage of the unit's line: go there, or make it.
  const measure = async (p: Part, ratio: string, d: Doc) => {
    const at = p.sources?.[ratio]?.stage;
    if (at) {
      navigate(`/stages/${at}`);
      return;
    }
    try {
      const fit = saved.fits.find((f) => f.part === p.id && f.ratio === ratio);
      let stage = fit?.stage;
      if (!stage) {
        const kinds = {
          axle: p.axle?.second ? "two_stage" : "ring_and_pinion",
          transfer_case: "transfer_case",
          gearbox: "gearbox",
          hub: "hub",
          planetary: "planetary",
          gearcase: "gearcase",
          gear_pair: p.gear_pair?.mesh === "chain" ? "chain_pair" : "gear_pair",
        } as const;
        const kind = kinds[p.kind as keyof typeof kinds];
        const position = p.kind === "transfer_case" || p.kind === "gearbox" ? ratio : undefined;
        const name = `${partName(p)}${position ? `, ${p.kind === "gearbox" ? "gear " : ""}${position}` : ""}`;
        const after = await take(
          api.POST("/units/{id}/stages", { ...path, body: { name: name.slice(0, 80), question: { kind, position } } }),
        );
        client.setQueryData(["unit", id], after);
        stage = after.stages.at(-1)?.id;
      }
      if (!stage) return;
      const linked: Doc = {
        ...d,
        parts: d.parts.map((q) =>
          q.id === p.id
            ? { ...q, sources: { ...q.sources, [ratio]: { kind: q.sources?.[ratio]?.kind ?? "unknown", stage } } }
            : q,
        ),
      };
      await save.mutateAsync({ doc: linked, states: saved.states });
      if (!fit) navigate(`/stages/${stage}`);
    } catch (e) {
      if (!(e instanceof Refused))
        notifications.show({ color: "red", title: "Not done", message: (e as Error).message });
    }
  };
  return (
    <TraceBench
      key={`${id} ${JSON.stringify(savedDoc)}`}
      title={title}
      name={u.name}
      doc={doc}
      states={saved.states}
      fits={saved.fits}
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
          Pick a layout, set its levers, hold a wheel, turn a flange. It stays on this device until you put it with a
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
