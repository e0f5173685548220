import { Modal } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, type Doc, type DrivelineState, type FaultComplaint, take } from "../../api/client";
import { key } from "../../api/keys";
import { useApart } from "../../machine/apart";
import { Machine, usePlan } from "../../machine/Machine";
import { useTrace } from "../../machine/useTrace";
import { Controls } from "../driveline/Controls";
import classes from "./findfault.module.css";
import "../driveline/driveline.css";

type Props = { doc: Doc; onPick: (c: FaultComplaint) => void; onClose: () => void };

/** The machine with its levers: set them as they were, and say what it did there. */
export function SetLevers({ doc, onPick, onClose }: Props) {
  const [state, setState] = useState<DrivelineState>({});
  const { trace } = useTrace(doc, state);
  const plan = usePlan(doc);
  const inner = useRef<HTMLDivElement>(null);
  useApart(inner, trace);
  const there = useQuery({
    queryKey: key.complaints(doc, state),
    queryFn: () => take(api.POST("/calc/find-fault/complaints", { body: { driveline: doc, state } })),
    placeholderData: (old) => old,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <Modal opened onClose={onClose} size="72rem" title="Set the levers as they were, then pick what it did">
      <div className="machine-frame">
        <div
          className="machine-inner"
          ref={inner}
          style={{ aspectRatio: `${plan.w} / ${plan.h}`, ["--aspect" as string]: plan.w / plan.h }}
        >
          {trace && (
            <>
              <Machine doc={doc} trace={trace} chosen={undefined} onShaft={() => undefined} onPart={() => undefined} />
              <Controls doc={doc} trace={trace} state={state} plan={plan} onState={setState} onPart={() => undefined} />
            </>
          )}
        </div>
      </div>
      <div className={classes.choices} aria-live="polite">
        {(there.data ?? []).map((c) => (
          <button key={c.id} type="button" onClick={() => onPick(c)}>
            {c.words}
          </button>
        ))}
      </div>
      {there.error && <p className="trouble">{there.error.message}</p>}
    </Modal>
  );
}
