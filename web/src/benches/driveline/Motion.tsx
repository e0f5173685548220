import { ActionIcon, Button, Checkbox, NativeSelect } from "@mantine/core";
import { useHotkeys, useReducedMotion } from "@mantine/hooks";
import { IconHandFinger, IconPlayerPause, IconPlayerPlay, IconPlayerTrackNext } from "@tabler/icons-react";
import { useEffect, useState } from "react";
import type { DrivelineState, Trace } from "../../api/client";
import { readNumber, ValueField } from "../../fields/ValueField";
import { nudge, setSpin } from "../../machine/spin";
import { without } from "./model";

/** Input turns in a second: slow enough to follow by eye. */
const paces = { slow: 0.12, steady: 0.45, brisk: 1.5 };
type Pace = keyof typeof paces;

type Props = {
  state: DrivelineState;
  trace: Trace;
  vehicle: boolean;
  tight?: string;
  onState: (s: DrivelineState) => void;
  /** Shows what turns it, on the machine. */
  onInput: (shaft: string) => void;
};

/** The motion of the drawing, what turns it, and what has no place on the machine: the corner, the losses. */
export function Motion({ state, trace, vehicle, tight, onState, onInput }: Props) {
  const [radius, setRadius] = useState(state.corner?.radius_m ?? 8);
  const corner = (toward: string, r: number) => {
    const rest = without(state, "corner");
    onState(toward === "none" ? rest : { ...rest, corner: { radius_m: r, toward: toward as "left" | "right" } });
  };
  const input = state.input?.shaft ?? trace.shafts[0]?.id ?? "";
  const name = trace.shafts.find((s) => s.id === input)?.name ?? input;
  const { turns, rpm } = state.input ?? {};
  const by =
    turns !== undefined
      ? `, ${turns} ${turns === "1" ? "turn" : "turns"} by hand`
      : rpm !== undefined
        ? `, ${rpm} rpm`
        : "";
  return (
    <div className="drives no-print">
      <Player jammed={trace.binds.some((b) => !b.cut)} />
      <Button
        variant="default"
        leftSection={<IconHandFinger size={18} />}
        title="Where the machine is turned: set it at the shaft"
        onClick={() => onInput(input)}
      >
        Turned: {name}
        {by}
      </Button>
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
            onChange={(e) => corner(e.currentTarget.value, state.corner?.radius_m ?? radius)}
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
                corner(state.corner?.toward ?? "none", r);
              }}
            />
          )}
        </>
      )}
      <Checkbox
        label="typical losses"
        title="takes usual efficiencies off the torques: typical figures, not this unit's"
        checked={Boolean(state.losses)}
        onChange={(e) => onState(e.currentTarget.checked ? { ...state, losses: true } : without(state, "losses"))}
        mb={8}
      />
    </div>
  );
}

/** Lets the drawing turn, rest or go on by a step. A machine in a bind doesn't turn. */
function Player({ jammed }: { jammed: boolean }) {
  const still = useReducedMotion();
  const [wanted, setWanted] = useState(!still);
  const [pace, setPace] = useState<Pace>("steady");
  const running = wanted && !still;
  useEffect(() => {
    setSpin(running && !jammed ? paces[pace] : 0);
    return () => setSpin(0);
  }, [running, jammed, pace]);
  const flip = () => setWanted((r) => !r);
  const step = () => nudge(1 / 16);
  useHotkeys([
    ["p", flip],
    [".", step],
    [",", () => nudge(-1 / 16)],
  ]);
  return (
    <div className="row">
      <ActionIcon
        size="lg"
        variant="filled"
        aria-label={running ? "Pause (P)" : "Turn (P)"}
        title={still ? "motion is reduced on this device: step by hand" : "P"}
        onClick={flip}
        disabled={still}
      >
        {running ? <IconPlayerPause size={20} /> : <IconPlayerPlay size={20} />}
      </ActionIcon>
      <ActionIcon
        size="lg"
        variant="default"
        aria-label="Step a sixteenth of an input turn (.)"
        title="."
        onClick={step}
      >
        <IconPlayerTrackNext size={20} />
      </ActionIcon>
      <NativeSelect
        aria-label="Speed of the drawing"
        value={pace}
        w={94}
        disabled={still}
        data={Object.keys(paces)}
        onChange={(e) => setPace(e.currentTarget.value as Pace)}
      />
    </div>
  );
}
