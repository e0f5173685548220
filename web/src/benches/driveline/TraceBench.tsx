import { ActionIcon, Button, Checkbox, Menu, NativeSelect, SegmentedControl, TextInput, Tooltip } from "@mantine/core";
import { useClipboard, useHotkeys, useReducedMotion } from "@mantine/hooks";
import { notifications } from "@mantine/notifications";
import {
  IconArrowBackUp,
  IconArrowForwardUp,
  IconBookmark,
  IconDeviceFloppy,
  IconLink,
  IconPlayerPause,
  IconPlayerPlay,
  IconPlayerTrackNext,
} from "@tabler/icons-react";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Doc, DrivelineState, Part, SavedState } from "../../api/client";
import { readNumber, ValueField } from "../../fields/ValueField";
import { typed } from "../../format/numbers";
import { useApart } from "../../machine/apart";
import { Loupes } from "../../machine/Loupe";
import { Machine, usePlan } from "../../machine/Machine";
import { nudge, setSpin } from "../../machine/spin";
import { useTrace } from "../../machine/useTrace";
import { BuildPanel } from "./BuildPanel";
import { Compare } from "./Compare";
import { Controls } from "./Controls";
import { GripPanel } from "./GripPanel";
import { useHistory } from "./history";
import { packState, select, unpackState, type Work, without } from "./model";
import { PowerPanel } from "./PowerPanel";
import { GearsTable, ShiftsTable, StandsSheet } from "./Tables";

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

/** Input turns in a second: slow enough to follow by eye. */
const paces = { slow: 0.12, steady: 0.45, brisk: 1.5 };
type Pace = keyof typeof paces;

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
  const still = useReducedMotion();
  const [running, setRunning] = useState(!still);
  const [pace, setPace] = useState<Pace>("steady");
  const clipboard = useClipboard();
  const plan = usePlan(doc);
  const inner = useRef<HTMLDivElement>(null);
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
  const jammed = trace?.binds.some((b) => !b.cut) ?? false;
  useEffect(() => {
    setSpin(running && !still && !jammed ? paces[pace] : 0);
    return () => setSpin(0);
  }, [running, still, jammed, pace]);

  const setState = (s: DrivelineState) => work.put((w) => ({ ...w, state: s }));
  const setDoc = (d: Doc) => work.put((w) => ({ ...w, doc: d }));
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
  const step = () => nudge(1 / 16);
  useHotkeys([
    ["p", () => setRunning((r) => !r)],
    [".", step],
    [",", () => nudge(-1 / 16)],
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
      {error && (
        <div className="answer trouble">
          {refused?.faults[0] ? `${refused.faults[0].message} (${refused.faults[0].field})` : error.message}
        </div>
      )}
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
                    </>
                  )}
                </div>
                <span className="front-mark">
                  {doc.lies === "bench" ? "" : doc.lies === "boat" ? "← bow" : "← front, seen from above"}
                </span>
                <Key />
              </div>
              {trace && (
                <Drives
                  state={state}
                  shafts={trace.shafts.map((s) => ({ value: s.id, label: s.name }))}
                  root={trace.shafts[0]?.id ?? ""}
                  vehicle={doc.lies === "vehicle"}
                  refused={refused?.at("/rpm", "/turns", "/input/shaft")}
                  tight={refused?.at("/radius_m")}
                  running={running && !still}
                  canRun={!still}
                  pace={pace}
                  onPace={setPace}
                  onRun={() => setRunning((r) => !r)}
                  onStep={step}
                  onState={setState}
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
                  held={state.hold ?? []}
                  onShaft={(id) => setShaft((o) => (o === id ? undefined : id))}
                  onPart={openPart}
                  onHold={(id) => {
                    const hold = state.hold ?? [];
                    const next = hold.includes(id) ? hold.filter((x) => x !== id) : [...hold, id];
                    setState(next.length > 0 ? { ...state, hold: next } : without(state, "hold"));
                  }}
                  onTurn={(id) =>
                    setState({ ...state, input: { ...(id === trace.shafts[0]?.id ? {} : { shaft: id }), turns: "1" } })
                  }
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

function Tool({
  label,
  icon,
  onClick,
  disabled,
}: {
  label: string;
  icon: ReactNode;
  onClick: () => void;
  disabled?: boolean;
}) {
  return (
    <Tooltip label={label}>
      <ActionIcon
        variant="subtle"
        color="gray.1"
        size="lg"
        aria-label={label}
        onClick={onClick}
        disabled={disabled}
        className="tool"
      >
        {icon}
      </ActionIcon>
    </Tooltip>
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

function StatesMenu({
  states,
  onShow,
  onKeep,
  onDrop,
}: {
  states: SavedState[];
  onShow: (s: DrivelineState) => void;
  onKeep?: (name: string) => void;
  onDrop?: (name: string) => void;
}) {
  const [name, setName] = useState("");
  return (
    <Menu position="bottom-end" width={320} closeOnItemClick={false} trapFocus>
      <Menu.Target>
        <ActionIcon variant="subtle" color="gray.1" size="lg" aria-label="Saved states" className="tool">
          <IconBookmark size={20} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>Saved states</Menu.Label>
        <Menu.Item onClick={() => onShow({})}>as it starts</Menu.Item>
        {states.map((s) => (
          <div key={s.name} className="row">
            <Menu.Item className="grow" onClick={() => onShow(s.state)}>
              {s.name}
            </Menu.Item>
            {onDrop && (
              <button type="button" className="linklike" aria-label={`Forget ${s.name}`} onClick={() => onDrop(s.name)}>
                −
              </button>
            )}
          </div>
        ))}
        {onKeep && (
          <form
            className="row"
            style={{ padding: "0.4rem" }}
            onSubmit={(e) => {
              e.preventDefault();
              if (!name.trim()) return;
              onKeep(name.trim());
              setName("");
            }}
          >
            <TextInput
              aria-label="Name of this state"
              placeholder="keep this state as …"
              value={name}
              maxLength={60}
              onChange={(e) => setName(e.currentTarget.value)}
              className="grow"
            />
            <Button type="submit" disabled={!name.trim()}>
              Keep
            </Button>
          </form>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}

type DrivesProps = {
  state: DrivelineState;
  shafts: { value: string; label: string }[];
  root: string;
  vehicle: boolean;
  refused?: string;
  tight?: string;
  running: boolean;
  canRun: boolean;
  pace: Pace;
  onPace: (p: Pace) => void;
  onRun: () => void;
  onStep: () => void;
  onState: (s: DrivelineState) => void;
};

/** What turns it, how fast or how far; the corner; the motion of the drawing. */
function Drives({
  state,
  shafts,
  root,
  vehicle,
  refused,
  tight,
  running,
  canRun,
  pace,
  onPace,
  onRun,
  onStep,
  onState,
}: DrivesProps) {
  const at = state.input?.shaft ?? root;
  const [hand, setHand] = useState(state.input?.turns !== undefined);
  const byHand = at !== root || hand;
  const [amount, setAmount] = useState(String(state.input?.turns ?? state.input?.rpm ?? ""));
  const [radius, setRadius] = useState(state.corner?.radius_m ?? 8);
  // A state that comes from elsewhere (undo, a saved state) shows its figures.
  const outside = `${state.input?.turns ?? ""} ${state.input?.rpm ?? ""}`;
  const [seen, setSeen] = useState(outside);
  if (seen !== outside) {
    setSeen(outside);
    if (state.input?.turns !== undefined) setHand(true);
    else if (state.input?.rpm !== undefined) setHand(false);
    const shown = state.input?.turns ?? state.input?.rpm;
    if (typed(amount) !== Number(shown ?? Number.NaN)) setAmount(shown === undefined ? "" : String(shown));
  }
  const put = (shaft: string, hand: boolean, text: string) => {
    const n = typed(text);
    if (Number.isNaN(n)) return; // what was typed stays, with its error
    const rest = without(state, "input");
    const input = {
      ...(shaft === root ? {} : { shaft }),
      ...(n === undefined ? {} : hand ? { turns: text.trim().replace(",", ".").replace("−", "-") } : { rpm: n }),
    };
    onState(Object.keys(input).length > 0 ? { ...rest, input } : rest);
  };
  const turn = (toward: string, r: number) => {
    const rest = without(state, "corner");
    onState(toward === "none" ? rest : { ...rest, corner: { radius_m: r, toward: toward as "left" | "right" } });
  };
  const bad = typed(amount) !== undefined && Number.isNaN(typed(amount)) ? "a number" : undefined;
  return (
    <div className="drives no-print">
      <div className="row">
        <ActionIcon
          size="lg"
          variant="filled"
          aria-label={running ? "Pause (P)" : "Turn (P)"}
          title={canRun ? "P" : "motion is reduced on this device: step by hand"}
          onClick={onRun}
          disabled={!canRun}
        >
          {running ? <IconPlayerPause size={20} /> : <IconPlayerPlay size={20} />}
        </ActionIcon>
        <ActionIcon
          size="lg"
          variant="default"
          aria-label="Step a sixteenth of an input turn (.)"
          title="."
          onClick={onStep}
        >
          <IconPlayerTrackNext size={20} />
        </ActionIcon>
        <NativeSelect
          aria-label="Pace of the drawing"
          value={pace}
          w={94}
          disabled={!canRun}
          data={Object.keys(paces)}
          onChange={(e) => onPace(e.currentTarget.value as Pace)}
        />
      </div>
      <NativeSelect
        label="What is turned"
        value={at}
        data={shafts}
        onChange={(e) => put(e.currentTarget.value, e.currentTarget.value !== root, amount)}
        w={148}
      />
      <TextInput
        label={byHand ? "by hand, turns" : "at rpm"}
        value={amount}
        w={76}
        inputMode="decimal"
        error={bad ?? refused}
        placeholder={byHand ? "10" : "2000"}
        onChange={(e) => {
          setAmount(e.currentTarget.value);
          put(at, byHand, e.currentTarget.value);
        }}
      />
      <SegmentedControl
        size="xs"
        value={byHand ? "hand" : "rpm"}
        data={[
          { value: "rpm", label: "running" },
          { value: "hand", label: "by hand" },
        ]}
        disabled={at !== root}
        onChange={(v) => {
          const start = v === "hand" ? "10" : "2000";
          setHand(v === "hand");
          setAmount(start);
          put(at, v === "hand", start);
        }}
      />
      {vehicle && (
        <>
          <NativeSelect
            label="Corner"
            w={148}
            value={state.corner?.toward ?? "none"}
            data={[
              { value: "none", label: "straight ahead" },
              { value: "left", label: "to the left" },
              { value: "right", label: "to the right" },
            ]}
            onChange={(e) => turn(e.currentTarget.value, state.corner?.radius_m ?? radius)}
          />
          {state.corner && (
            <ValueField
              label="radius, m"
              value={state.corner.radius_m}
              w={74}
              inputMode="decimal"
              error={tight}
              read={readNumber}
              onSet={(r) => {
                if (r === undefined) return;
                setRadius(r);
                turn(state.corner?.toward ?? "none", r);
              }}
            />
          )}
        </>
      )}
      <Checkbox
        label="typical losses"
        title="takes usual efficiencies off the torques; typical, not this unit's"
        checked={Boolean(state.losses)}
        onChange={(e) => onState(e.currentTarget.checked ? { ...state, losses: true } : without(state, "losses"))}
        mb={8}
      />
    </div>
  );
}
