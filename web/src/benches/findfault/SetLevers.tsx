import { Modal } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Doc, type DrivelineState, type FaultComplaint, take } from "../../api/client";
import { key } from "../../api/keys";
import { useTrace } from "../../machine/useTrace";
import { LeverMachine } from "../driveline/LeverMachine";
import classes from "./findfault.module.css";

type Props = { doc: Doc; onPick: (c: FaultComplaint) => void; onClose: () => void };

/** The machine with its levers: set them as they were, and say what it did there. */
export function SetLevers({ doc, onPick, onClose }: Props) {
  const [state, setState] = useState<DrivelineState>({});
  const { trace } = useTrace(doc, state);
  const there = useQuery({
    queryKey: key.complaints(doc, state),
    queryFn: () => take(api.POST("/calc/find-fault/complaints", { body: { driveline: doc, state } })),
    placeholderData: (old) => old,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <Modal opened onClose={onClose} size="72rem" title="Set the levers as they were, then pick what it did">
      <div className="machine-frame">
        <LeverMachine doc={doc} state={state} trace={trace} onState={setState} />
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
