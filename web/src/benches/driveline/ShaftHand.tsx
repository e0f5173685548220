import { Button, CloseButton, SegmentedControl } from "@mantine/core";
import { type RefObject, useMemo, useState } from "react";
import type { DrivelineState, Trace } from "../../api/client";
import { readFigure, readNumber, ValueField } from "../../fields/ValueField";
import type { Plan } from "../../machine/plan";
import { beside } from "./beside";
import { without } from "./model";
import classes from "./shaftHand.module.css";

type Props = {
  card: RefObject<HTMLElement | null>;
  shaft: string;
  trace: Trace;
  state: DrivelineState;
  plan: Plan;
  refused?: string;
  onState: (s: DrivelineState) => void;
  onClose: () => void;
};

/** What a hand can do to a shaft, at that shaft on the machine: turn it, run it, hold it. */
export function ShaftHand({ card, shaft, trace, state, plan, refused, onState, onClose }: Props) {
  const root = trace.shafts[0];
  const isRoot = shaft === root?.id;
  const isInput = (state.input?.shaft ?? root?.id) === shaft;
  const [hand, setHand] = useState(state.input?.turns !== undefined);
  const place = useMemo(() => beside(plan, shaft), [plan, shaft]);
  const s = trace.shafts.find((x) => x.id === shaft);
  if (!s) return null;
  const turns = state.input?.turns;
  const rpm = state.input?.rpm;
  const byHand = !isRoot || (turns === undefined ? rpm === undefined && hand : true);
  const held = state.hold?.includes(shaft) ?? false;
  const named = isRoot ? {} : { shaft };

  const put = (input: DrivelineState["input"]) => {
    const rest = without(state, "input");
    onState(input && Object.keys(input).length > 0 ? { ...rest, input } : rest);
  };
  const hold = () => {
    const next = held ? state.hold?.filter((x) => x !== shaft) : [...(state.hold ?? []), shaft];
    onState(next && next.length > 0 ? { ...state, hold: next } : without(state, "hold"));
  };
  return (
    <section
      ref={card}
      tabIndex={-1}
      className={classes.card}
      aria-label={`By hand: ${s.name}`}
      style={{ ["--hand-x" as string]: place.x, ["--hand-y" as string]: place.y }}
      onKeyDown={(e) => e.key === "Escape" && onClose()}
    >
      <header>
        <b>{s.name}</b>
        <CloseButton size="sm" aria-label="Close (Esc)" onClick={onClose} />
      </header>
      {isInput && isRoot && (
        <SegmentedControl
          size="xs"
          value={byHand ? "hand" : "rpm"}
          data={[
            { value: "rpm", label: "running" },
            { value: "hand", label: "by hand" },
          ]}
          onChange={(v) => {
            setHand(v === "hand");
            put(v === "hand" ? { turns: "10" } : { rpm: 2000 });
          }}
        />
      )}
      {isInput && byHand && (
        <ValueField
          label="by hand, turns"
          value={turns === undefined ? undefined : String(turns)}
          read={readFigure}
          error={refused}
          placeholder="10"
          onSet={(t) => put({ ...named, ...(t === undefined ? {} : { turns: t }) })}
        />
      )}
      {isInput && !byHand && (
        <ValueField
          label="at rpm"
          value={rpm}
          read={readNumber}
          error={refused}
          inputMode="decimal"
          placeholder="2000"
          onSet={(n) => put(n === undefined ? {} : { rpm: n })}
        />
      )}
      <div className="row">
        {!isInput && (
          <Button size="compact-sm" onClick={() => put({ ...named, turns: "1" })}>
            Turn it by hand
          </Button>
        )}
        {isInput && !isRoot && root && (
          <Button size="compact-sm" variant="default" onClick={() => put({})}>
            Let the {root.name} turn it
          </Button>
        )}
        <Button size="compact-sm" variant="default" aria-pressed={held} onClick={hold}>
          {held ? "Let it go" : "Hold it"}
        </Button>
      </div>
    </section>
  );
}
