import type { RefObject } from "react";
import type { Doc, DrivelineState, Refused, Trace } from "../../api/client";
import { Loupes } from "../../machine/Loupe";
import { usePlan } from "../../machine/Machine";
import { frontMark } from "../../machine/upright";
import { LeverMachine } from "./LeverMachine";
import { Motion } from "./Motion";
import { ShaftHand } from "./ShaftHand";

type Props = {
  doc: Doc;
  state: DrivelineState;
  trace?: Trace;
  refused?: Refused;
  shaft?: string;
  /** The part that is chosen, where one is. */
  part?: string;
  hand: RefObject<HTMLElement | null>;
  onState: (s: DrivelineState) => void;
  onShaft: (id?: string) => void;
  onReach: (id: string) => void;
  onPart: (id: string) => void;
  onOpenPart: (id: string) => void;
};

/** The machine with its levers on it, the key to its lines, and what turns it. */
export function MachineSide({ doc, state, trace, refused, shaft, part, hand, ...on }: Props) {
  const plan = usePlan(doc);
  return (
    <div className="machine-side">
      <div className="machine-frame">
        <LeverMachine
          doc={doc}
          state={state}
          trace={trace}
          shaft={shaft}
          part={part}
          onState={on.onState}
          onShaft={on.onShaft}
          onPart={on.onPart}
          onOpenPart={on.onOpenPart}
        >
          {trace && shaft && (
            <ShaftHand
              key={shaft}
              card={hand}
              shaft={shaft}
              trace={trace}
              state={state}
              plan={plan}
              refused={refused?.at("/rpm", "/turns", "/input/shaft")}
              onState={on.onState}
              onClose={() => on.onShaft(undefined)}
            />
          )}
        </LeverMachine>
        <span className="front-mark">{frontMark(doc, plan)}</span>
        <Key />
      </div>
      {trace && (
        <Motion
          state={state}
          trace={trace}
          vehicle={doc.lies === "vehicle"}
          tight={refused?.at("/radius_m")}
          onState={on.onState}
          onInput={on.onReach}
        />
      )}
      {trace && <Loupes trace={trace} />}
    </div>
  );
}

const lines = [
  ["power", "power, thicker where more passes"],
  ["chalk", "chalk mark"],
  ["still", "not turning"],
  ["free", "free"],
  ["bind", "binds"],
  ["unknown", "not known"],
];

function Key() {
  return (
    <ul className="key" aria-label="Key">
      {lines.map(([line, what]) => (
        <li key={line}>
          <i className={`k-${line}`} /> {what}
        </li>
      ))}
    </ul>
  );
}
