import { Button, SegmentedControl } from "@mantine/core";
import { useClipboard, useHotkeys } from "@mantine/hooks";
import { notifications } from "@mantine/notifications";
import { IconArrowBackUp, IconArrowForwardUp, IconDeviceFloppy, IconLink } from "@tabler/icons-react";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useSearchParams } from "react-router";
import { type Doc, type DrivelineState, type Part, reason, type SavedState } from "../../api/client";
import { useApart } from "../../machine/apart";
import { Loupes } from "../../machine/Loupe";
import { Machine, usePlan } from "../../machine/Machine";
import { useTrace } from "../../machine/useTrace";
import { BuildPanel } from "./BuildPanel";
import { Compare } from "./Compare";
import { Controls } from "./Controls";
import { GripPanel } from "./GripPanel";
import { useHistory } from "./history";
import { Motion } from "./Motion";
import { packState, select, unpackState, type Work, without } from "./model";
import { PowerPanel } from "./PowerPanel";
import { ShaftHand } from "./ShaftHand";
import { StatesMenu } from "./StatesMenu";
import { GearsTable, ShiftsTable, StandsSheet } from "./Tables";
import { Tool } from "./Tool";
import "./driveline.css";

type View = "power" | "grip" | "build" | "gears" | "shifts" | "stands" | "compare";

const views: { value: View; label: string }[] = [
  { value: "power", label: "Power" },
  { value: "grip", label: "Grip" },
  { value: "build", label: "Build" },
  { value: "gears", label: "Gears" },
  { value: "shifts", label: "Shifts" },
  { value: "stands", label: "On stands" },
  { value: "compare", label: "Compare" },
];

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
  const [query, setQuery] = useSearchParams();
  const work = useHistory<Work>({ doc: given, state: unpackState(query.get("s")) ?? {} });
  const { doc, state } = work.now;
  const [view, go] = useState<View>(views.find((v) => v.value === query.get("view"))?.value ?? "power");
  // The state that stands beside the other in the comparison: as it starts.
  const [beside, setBeside] = useState<DrivelineState>({});
  const [shaft, setShaft] = useState<string>();
  const [part, setPart] = useState<string>();
  const { trace, refused, error } = useTrace(doc, state);
  const clipboard = useClipboard();
  const plan = usePlan(doc);
  const inner = useRef<HTMLDivElement>(null);
  const hand = useRef<HTMLElement>(null);
  useApart(inner, trace);

  // The address holds view and state, so that a link shows both.
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
  const shift = (by: number) => {
    const lever = trace?.selectors.find((x) =>
      ["gearbox", "gearcase", "upper", "reverse_gear"].includes(doc.parts.find((p) => p.id === x.part)?.kind ?? ""),
    );
    if (!lever || !trace) return;
    const i = lever.options.findIndex((o) => o.value === lever.value);
    const next = lever.options[i + by];
    if (next) setState(select(state, trace, lever.id, next.value));
  };
  const flip = (ends: string[], values: string[]) => {
    const lever = trace?.selectors.find((x) => ends.some((e) => x.id.endsWith(e)));
    if (!lever || !trace) return;
    const next = lever.value === values[0] ? values[1] : values[0];
    const v =
      lever.options.find((o) => o.value === next)?.value ?? lever.options.find((o) => o.value !== lever.value)?.value;
    if (v) setState(select(state, trace, lever.id, v));
  };
  useHotkeys([
    ["mod+z", work.undo],
    ["mod+shift+z", work.redo],
    ["mod+y", work.redo],
    ["]", () => shift(1)],
    ["[", () => shift(-1)],
    ["l", () => flip([".range"], ["high", "low"])],
    ["c", () => flip([".center"], ["open", "locked"])],
    ["k", () => flip([".lock"], ["open", "locked"])],
    ["0", () => setState({})],
    ["alt+1", () => go("power")],
    ["alt+2", () => go("grip")],
    ["alt+3", () => go("build")],
    ["alt+4", () => go("gears")],
    ["alt+5", () => go("shifts")],
    ["alt+6", () => go("stands")],
    ["alt+7", () => go("compare")],
  ]);

  const copy = () => {
    clipboard.copy(window.location.href);
    notifications.show({ message: "The link to this state is copied." });
  };
  const keepState = (label: string) => {
    onSave?.(doc, [...states.filter((x) => x.name !== label), { name: label, state }]);
  };
  const wide = view === "gears" || view === "shifts" || view === "stands" || view === "compare";
  return (
    <div className="trace">
      <div className="band trace-band">
        <h1>{title}</h1>
        <SegmentedControl
          size="sm"
          value={view}
          onChange={(v) => go(v as View)}
          data={
            doc.lies === "vehicle"
              ? views
              : views
                  .filter((v) => v.value !== "grip" && v.value !== "shifts")
                  .map((v) => (v.value === "stands" ? { ...v, label: "By hand" } : v))
          }
          aria-label="View"
          className="no-print"
        />
        <span className="grow" />
        <div className="row no-print">
          <Tool
            label="Undo (Ctrl Z)"
            onClick={work.undo}
            disabled={!work.canUndo}
            icon={<IconArrowBackUp size={20} />}
          />
          <Tool
            label="Redo (Ctrl Y)"
            onClick={work.redo}
            disabled={!work.canRedo}
            icon={<IconArrowForwardUp size={20} />}
          />
          <StatesMenu
            states={states}
            onShow={(s) => setState(s)}
            onKeep={onSave && mayWrite ? keepState : undefined}
            onDrop={
              onSave && mayWrite
                ? (n) =>
                    onSave(
                      doc,
                      states.filter((x) => x.name !== n),
                    )
                : undefined
            }
          />
          <Tool label="Copy a link to this state" onClick={copy} icon={<IconLink size={20} />} />
          {onSave && mayWrite && (
            <Button
              color="brass.4"
              autoContrast
              leftSection={<IconDeviceFloppy size={18} />}
              disabled={!dirty}
              loading={saving}
              onClick={() => onSave(doc, states)}
            >
              {dirty ? "Keep" : "Kept"}
            </Button>
          )}
          {extra}
        </div>
      </div>
      {trace && view !== "compare" && (
        <div className={`answer ${trace.binds.length > 0 ? "is-bind" : ""}`} role="status">
          {trace.sentence}
          {trace.speed_kmh !== undefined && trace.shafts.some((s) => s.rpm !== undefined) && (
            <b> {Math.abs(trace.speed_kmh).toFixed(1)} km/h.</b>
          )}
        </div>
      )}
      {error && <div className="answer trouble">{reason(error)}</div>}
      <main id="main">
        {wide && trace && (
          <div className="page">
            {view === "gears" && <GearsTable doc={doc} state={state} name={name} onTry={tryOut} />}
            {view === "compare" && (
              <Compare
                doc={doc}
                first={{ state: beside, onState: setBeside }}
                second={{ state, onState: setState }}
                onPart={openPart}
              />
            )}
            {view === "shifts" && <ShiftsTable doc={doc} state={state} />}
            {view === "stands" && (
              <StandsSheet
                doc={doc}
                title={name}
                onShow={(s) => {
                  setState(s);
                  go("power");
                }}
              />
            )}
          </div>
        )}
        {!wide && (
          <div className="trace-grid">
            <div className="machine-side">
              <div className="machine-frame">
                <div
                  className="machine-inner"
                  ref={inner}
                  style={{ aspectRatio: `${plan.w} / ${plan.h}`, ["--aspect" as string]: plan.w / plan.h }}
                >
                  {trace && (
                    <>
                      <Machine
                        doc={doc}
                        trace={trace}
                        chosen={shaft}
                        chosenPart={view === "build" ? part : undefined}
                        onShaft={setShaft}
                        onPart={(id) => (view === "build" ? setPart(id) : openPart(id))}
                      />
                      <Controls
                        doc={doc}
                        trace={trace}
                        state={state}
                        plan={plan}
                        onState={setState}
                        onPart={openPart}
                      />
                      {shaft && (
                        <ShaftHand
                          key={shaft}
                          card={hand}
                          shaft={shaft}
                          trace={trace}
                          state={state}
                          plan={plan}
                          refused={refused?.at("/rpm", "/turns", "/input/shaft")}
                          onState={setState}
                          onClose={() => setShaft(undefined)}
                        />
                      )}
                    </>
                  )}
                </div>
                <span className="front-mark">
                  {doc.lies === "bench" ? "" : doc.lies === "boat" ? "← bow" : "← front, seen from above"}
                </span>
                <Key />
              </div>
              {trace && (
                <Motion
                  state={state}
                  trace={trace}
                  vehicle={doc.lies === "vehicle"}
                  tight={refused?.at("/radius_m")}
                  onState={setState}
                  onInput={reach}
                />
              )}
              {trace && <Loupes trace={trace} />}
            </div>
            <aside className="trace-side">
              {trace && view === "power" && (
                <PowerPanel
                  doc={doc}
                  trace={trace}
                  chosen={shaft}
                  onShaft={(id) => setShaft((o) => (o === id ? undefined : id))}
                  onPart={openPart}
                  onHands={reach}
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
                  onBroken={(list) => setState(list.length > 0 ? { ...state, broken: list } : without(state, "broken"))}
                  onDoc={setDoc}
                  onPart={setPart}
                  onMeasure={onMeasure && ((p, r) => onMeasure(p, r, doc))}
                />
              )}
            </aside>
          </div>
        )}
      </main>
    </div>
  );
}

function Key() {
  return (
    <ul className="key" aria-label="Key">
      <li>
        <i className="k-power" /> power, as thick as its part
      </li>
      <li>
        <i className="k-chalk" /> chalk mark
      </li>
      <li>
        <i className="k-still" /> still
      </li>
      <li>
        <i className="k-free" /> free
      </li>
      <li>
        <i className="k-bind" /> bind
      </li>
      <li>
        <i className="k-unknown" /> not known
      </li>
    </ul>
  );
}
