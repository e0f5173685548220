import { useHotkeys } from "@mantine/hooks";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useSearchParams } from "react-router";
import {
  type Doc,
  type DrivelineState,
  type Part,
  type Refused,
  reason,
  type SavedState,
  type Trace,
} from "../../api/client";
import { useUnits } from "../../app/units";
import { fixed, fromKMH, speedUnit } from "../../format/numbers";
import { useTrace } from "../../machine/useTrace";
import { BuildPanel } from "./BuildPanel";
import { Compare } from "./Compare";
import { GripPanel } from "./GripPanel";
import { useHistory } from "./history";
import { MachineSide } from "./MachineSide";
import { packState, select, unpackState, type Work, without } from "./model";
import { PowerPanel } from "./PowerPanel";
import { GearsTable, ShiftsTable, StandsSheet } from "./Tables";
import { TraceBand, type View, views } from "./TraceBand";
import { useLeverKeys } from "./useLeverKeys";
import "./driveline.css";

type Props = {
  title: ReactNode;
  name: string;
  doc: Doc;
  states: SavedState[];
  mayWrite: boolean;
  dirty?: boolean;
  saving?: boolean;
  /** Called with every change of the document, to keep it on this device. */
  onChange?: (d: Doc) => void;
  onSave?: (d: Doc, states: SavedState[]) => void;
  onMeasure?: (p: Part, ratio: string, d: Doc) => void;
  extra?: ReactNode;
};

/** The driveline drawn, set by its levers, and everything that follows. */
export function TraceBench({
  title,
  name,
  doc: given,
  states,
  mayWrite,
  dirty,
  saving,
  onChange,
  onSave,
  onMeasure,
  extra,
}: Props) {
  const [query] = useSearchParams();
  const work = useHistory<Work>({ doc: given, state: unpackState(query.get("s")) ?? {} });
  const { doc, state } = work.now;
  const [view, go] = useState<View>(views.find((v) => v.value === query.get("view"))?.value ?? "power");
  const [shaft, setShaft] = useState<string>();
  const [part, setPart] = useState<string>();
  const { trace, refused, error } = useTrace(doc, state);
  const hand = useRef<HTMLElement>(null);
  useAddress(view, state);
  useEffect(() => {
    onChange?.(doc);
  }, [doc, onChange]);
  const setState = (s: DrivelineState) => work.put((w) => ({ ...w, state: s }));
  const setDoc = (d: Doc) => work.put((w) => ({ ...w, doc: d }));
  // Goes to a shaft on the machine, with the hands on it.
  const reach = (id: string) => {
    flushSync(() => setShaft(id));
    hand.current?.focus();
  };
  const openPart = (id: string) => {
    setPart(id);
    go("build");
  };
  const tryOut = (set: Record<string, string>) => {
    if (!trace) return;
    let s = state;
    for (const [k, v] of Object.entries(set)) s = select(s, trace, k, v);
    setState(s);
    go("power");
  };
  useLeverKeys(doc, trace, state, setState);
  useViewKeys(work, go);
  const save = mayWrite ? onSave : undefined;
  const wide = view === "gears" || view === "shifts" || view === "stands" || view === "compare";
  return (
    <div className="trace">
      <TraceBand
        title={title}
        view={view}
        onView={go}
        work={work}
        onState={setState}
        states={states}
        dirty={dirty}
        saving={saving}
        onSave={save}
        extra={extra}
      />
      {trace && view !== "compare" && <Answer trace={trace} />}
      {error && <div className="answer trouble">{reason(error)}</div>}
      <main id="main">
        {wide && trace && (
          <WidePage
            view={view}
            doc={doc}
            state={state}
            name={name}
            onTry={tryOut}
            onPart={openPart}
            onState={setState}
            onShow={(s) => {
              setState(s);
              go("power");
            }}
          />
        )}
        {!wide && (
          <div className="trace-grid">
            <MachineSide
              doc={doc}
              state={state}
              trace={trace}
              refused={refused}
              shaft={shaft}
              part={view === "build" ? part : undefined}
              hand={hand}
              onState={setState}
              onShaft={setShaft}
              onReach={reach}
              onPart={(id) => (view === "build" ? setPart(id) : openPart(id))}
              onOpenPart={openPart}
            />
            <aside className="trace-side">
              <ViewSide
                view={view}
                doc={doc}
                state={state}
                trace={trace}
                refused={refused}
                shaft={shaft}
                part={part}
                mayWrite={mayWrite}
                onState={setState}
                onDoc={setDoc}
                onShaft={setShaft}
                onPart={setPart}
                onOpenPart={openPart}
                onReach={reach}
                onMeasure={onMeasure && ((p, r) => onMeasure(p, r, doc))}
              />
            </aside>
          </div>
        )}
      </main>
    </div>
  );
}

interface SideProps {
  view: View;
  doc: Doc;
  state: DrivelineState;
  trace?: Trace;
  refused?: Refused;
  shaft?: string;
  part?: string;
  mayWrite: boolean;
  onState: (s: DrivelineState) => void;
  onDoc: (d: Doc) => void;
  onShaft: (id?: string) => void;
  onPart: (id?: string) => void;
  onOpenPart: (id: string) => void;
  onReach: (id: string) => void;
  onMeasure?: (p: Part, ratio: string) => void;
}

/** The panel beside the machine, by view. */
function ViewSide({
  view,
  doc,
  state,
  trace,
  refused,
  shaft,
  part,
  mayWrite,
  onState,
  onDoc,
  onShaft,
  onPart,
  onOpenPart,
  onReach,
  onMeasure,
}: SideProps) {
  return (
    <>
      {trace && view === "power" && (
        <PowerPanel
          doc={doc}
          trace={trace}
          chosen={shaft}
          onShaft={(id) => onShaft(shaft === id ? undefined : id)}
          onPart={onOpenPart}
          onHands={onReach}
        />
      )}
      {view === "grip" && <GripPanel doc={doc} state={state} />}
      {view === "build" && (
        <BuildPanel
          doc={doc}
          part={part}
          refused={refused}
          mayWrite={mayWrite}
          broken={state.broken ?? []}
          onBroken={(list) => onState(list.length > 0 ? { ...state, broken: list } : without(state, "broken"))}
          onDoc={onDoc}
          onPart={onPart}
          onMeasure={onMeasure}
        />
      )}
    </>
  );
}

/** Undo, redo, and the views by number. */
function useViewKeys(work: { undo: () => void; redo: () => void }, go: (v: View) => void) {
  useHotkeys([
    ["mod+z", work.undo],
    ["mod+shift+z", work.redo],
    ["mod+y", work.redo],
    ...views.map(({ value }, i): [string, () => void] => [`alt+${i + 1}`, () => go(value)]),
  ]);
}

/** What the wheels do, in one line above everything. */
function Answer({ trace }: { trace: Trace }) {
  const [units] = useUnits();
  const turning = trace.shafts.some((s) => s.rpm !== undefined);
  return (
    <div className={`answer ${trace.binds.length > 0 ? "is-bind" : ""}`} role="status">
      {trace.sentence}
      {trace.speed_kmh !== undefined && turning && (
        <b>
          {" "}
          {fixed(fromKMH(Math.abs(trace.speed_kmh), units), 1)} {speedUnit(units)}.
        </b>
      )}
    </div>
  );
}

type WideProps = {
  view: View;
  doc: Doc;
  state: DrivelineState;
  name: string;
  onTry: (set: Record<string, string>) => void;
  onPart: (id: string) => void;
  onState: (s: DrivelineState) => void;
  onShow: (s: DrivelineState) => void;
};

/** The views that need the whole width: tables, the sheet for the stands, two states side by side. */
function WidePage({ view, doc, state, name, onTry, onPart, onState, onShow }: WideProps) {
  // The other state of the comparison: as it starts.
  const [beside, setBeside] = useState<DrivelineState>({});
  return (
    <div className="page">
      {view === "gears" && <GearsTable doc={doc} state={state} name={name} onTry={onTry} />}
      {view === "compare" && (
        <Compare doc={doc} first={{ state: beside, onState: setBeside }} second={{ state, onState }} onPart={onPart} />
      )}
      {view === "shifts" && <ShiftsTable doc={doc} state={state} />}
      {view === "stands" && <StandsSheet doc={doc} title={name} onShow={onShow} />}
    </div>
  );
}

/** The address holds view and levers, so that a link shows both. */
function useAddress(view: View, state: DrivelineState) {
  const [query, setQuery] = useSearchParams();
  const packed = Object.keys(state).length > 0 ? packState(state) : "";
  const shown = `${query.get("view") ?? "power"} ${query.get("s") ?? ""}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a changed view or state writes the address
  useEffect(() => {
    if (shown === `${view} ${packed}`) return; // writing it anyway could undo a change of page
    setQuery(
      (q) => {
        if (view === "power") q.delete("view");
        else q.set("view", view);
        if (packed) q.set("s", packed);
        else q.delete("s");
        return q;
      },
      { replace: true },
    );
  }, [view, packed]);
}
