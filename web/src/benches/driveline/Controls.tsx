import { NativeSelect } from "@mantine/core";
import { useId } from "react";
import type { Doc, DrivelineState, Selector, Trace } from "../../api/client";
import { partName } from "../../machine/document";
import type { Plan } from "../../machine/plan";
import { inOrder, spotStyle } from "../../machine/upright";
import { select } from "./model";
import "./driveline.css";

const wheelWords = [
  { value: "ground", label: "on the ground" },
  { value: "lifted", label: "lifted" },
  { value: "held", label: "held" },
  { value: "ice", label: "on ice" },
];

type Props = {
  doc: Doc;
  trace: Trace;
  state: DrivelineState;
  plan: Plan;
  onState: (s: DrivelineState) => void;
  onPart: (id: string) => void;
};

/** Levers, locks and wheels, where they are on the machine. */
export function Controls({ doc, trace, state, plan, onState, onPart }: Props) {
  const seen = new Set<string>();
  return (
    <div className="beside">
      {inOrder(plan.spots, plan).map((s) => {
        const p = doc.parts.find((q) => q.id === s.part);
        if (!p || seen.has(p.id)) return null;
        seen.add(p.id);
        const levers = trace.selectors.filter((x) => x.part === p.id);
        return (
          <div key={p.id} className={`spot ${s.side}`} style={spotStyle(s, plan)}>
            {p.kind === "wheel" ? (
              <NativeSelect
                size="xs"
                label={plan.upright ? partName(p) : undefined}
                aria-label={partName(p)}
                value={state.wheels?.[p.id] ?? (doc.lies === "bench" ? "lifted" : "ground")}
                data={wheelWords}
                onChange={(e) => onState({ ...state, wheels: { ...state.wheels, [p.id]: e.currentTarget.value } })}
              />
            ) : (
              (levers.length > 0 || p.kind !== "shaft") && (
                <button type="button" className="part-name" onClick={() => onPart(p.id)}>
                  {partName(p)}
                </button>
              )
            )}
            {levers.map((l) => (
              <Lever key={l.id} lever={l} onSet={(v) => onState(select(state, trace, l.id, v))} />
            ))}
          </div>
        );
      })}
    </div>
  );
}

const short: Record<string, string> = {
  engaged: "engaged",
  open: "open",
  locked: "locked",
  slipping: "slipping",
  high: "high",
  low: "low",
  forward: "F",
  neutral: "N",
  reverse: "R",
  ahead: "ahead",
  astern: "astern",
  free: "free",
};

/** A row of positions; arrow keys move along it. */
export function Lever({ lever, onSet }: { lever: Selector; onSet: (v: string) => void }) {
  const own = useId(); // the same lever may stand on two drawings
  const drives = lever.options.some((o) => o.words === "2WD");
  const name = lever.id.endsWith(".hubs") ? "hubs " : lever.id.endsWith(".center") && !drives ? "center " : "";
  return (
    <fieldset className="lever" aria-label={lever.name}>
      {name && <span aria-hidden="true">{name}</span>}
      {lever.options.map((o) => (
        <label key={o.value} title={`${lever.name}: ${o.words}`} className={o.value === lever.value ? "is-set" : ""}>
          <input
            type="radio"
            name={`lever ${lever.id} ${own}`}
            value={o.value}
            checked={o.value === lever.value}
            onChange={() => onSet(o.value)}
            aria-label={`${lever.name}: ${o.words}`}
          />
          <span aria-hidden="true">{drives ? o.words : (short[o.value] ?? o.value)}</span>
        </label>
      ))}
    </fieldset>
  );
}
