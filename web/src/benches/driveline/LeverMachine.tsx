import { type ReactNode, useRef } from "react";
import type { Doc, DrivelineState, Trace } from "../../api/client";
import { useApart } from "../../machine/apart";
import { Enlarge } from "../../machine/Enlarge";
import { Machine, usePlan } from "../../machine/Machine";
import { frameStyle } from "../../machine/upright";
import { Controls } from "./Controls";
import "./driveline.css";

type Props = {
  doc: Doc;
  state: DrivelineState;
  trace?: Trace;
  onState: (s: DrivelineState) => void;
  shaft?: string;
  part?: string;
  onShaft?: (id: string) => void;
  onPart?: (id: string) => void;
  /** A part's name beside its levers was chosen. */
  onOpenPart?: (id: string) => void;
  /** What lies over the machine. */
  children?: ReactNode;
};

const nothing = () => undefined;

/** The drawn machine with its levers, locks and wheels where they are. */
export function LeverMachine({ doc, state, trace, onState, shaft, part, children, ...on }: Props) {
  const plan = usePlan(doc);
  const inner = useRef<HTMLDivElement>(null);
  useApart(inner, trace);
  return (
    <Enlarge>
      <div className="machine-inner" ref={inner} style={frameStyle(plan)} data-upright={plan.upright || undefined}>
        {trace && (
          <>
            <Machine
              doc={doc}
              trace={trace}
              chosen={shaft}
              chosenPart={part}
              onShaft={on.onShaft ?? nothing}
              onPart={on.onPart ?? nothing}
            />
            <Controls
              doc={doc}
              trace={trace}
              state={state}
              plan={plan}
              onState={onState}
              onPart={on.onOpenPart ?? nothing}
            />
            {children}
          </>
        )}
      </div>
    </Enlarge>
  );
}
