import { Button, NativeSelect, Textarea, TextInput } from "@mantine/core";
import { IconPlugConnected, IconRefresh } from "@tabler/icons-react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Calibration, type SpeedoRequest, take } from "../../api/client";
import { key } from "../../api/keys";
import { useMaySave, useSession } from "../../app/session";
import { fixed } from "../../format/numbers";
import { useDecide, useTouchUnit } from "../useDecide";
import classes from "./speedo.module.css";

const faults = [
  { value: "none", label: "works" },
  { value: "timeout", label: "does not answer" },
  { value: "drop", label: "drops the line before it has written" },
  { value: "drop_after_write", label: "drops the line after it has written" },
  { value: "busy", label: "says it is busy" },
] as const;

type Fault = (typeof faults)[number]["value"];

type Props = {
  unit?: number;
  /** The calibration that was worked out. */
  wanted?: number;
  ask: SpeedoRequest;
  onRead: (pulses: number) => void;
};

/** The value to write, as found or as typed, and what is wrong with it. */
function useValue(wanted?: number) {
  const [own, setOwn] = useState<string>();
  const value = own ?? (wanted === undefined ? "" : String(wanted));
  const pulses = Number(value.trim().replace(",", "."));
  const wrong = !(pulses > 0) || pulses > 1_000_000 ? "pulses per km, above 0 to 1 000 000" : undefined;
  return { own, setOwn, value, pulses, bad: value.trim() === "" ? "" : wrong };
}

/** The programmer at the server: what it reads, and writing through it. */
export function Programmer({ unit, wanted, ask, onRead }: Props) {
  const maySave = useMaySave();
  const person = useSession().data?.person;
  const state = useQuery({
    queryKey: key.programmer(),
    queryFn: () => take(api.GET("/programmer")),
    enabled: Boolean(person),
    retry: false,
  });
  const s = state.data;
  if (!person)
    return (
      <p className="dim">
        <Link to="/sign-in">Sign in</Link> to write a calibration through the programmer and save it.
      </p>
    );
  return (
    <section className="panel" aria-label="Programmer">
      <div className="row spread wrap">
        <h2>Programmer</h2>
        <Button
          variant="default"
          size="sm"
          leftSection={<IconRefresh size={16} />}
          loading={state.isFetching}
          onClick={() => void state.refetch()}
        >
          Read it
        </Button>
      </div>
      {state.error && <p className="trouble">{state.error.message}</p>}
      {s && !s.configured && (
        <p className="dim">
          No programmer is set up on this server. Write the value with the vehicle's own tool, then save it here.
        </p>
      )}
      {s?.configured && !s.reached && (
        <p className="trouble" role="alert">
          {s.trouble}
        </p>
      )}
      {s?.reached && (
        <p>
          <IconPlugConnected size={18} aria-hidden /> {s.device}: <b>{fixed(s.pulses_per_km ?? 0, 0)}</b> pulses a km in
          it now. It takes {fixed(s.from ?? 0, 0)} to {fixed(s.to ?? 0, 0)}.{" "}
          <button type="button" className="linklike no-print" onClick={() => onRead(s.pulses_per_km ?? 0)}>
            This is the calibration now
          </button>
        </p>
      )}
      {unit === undefined ? (
        <p className="dim">
          Open this from a <Link to="/units">unit</Link> to write: every write is saved in the unit's history.
        </p>
      ) : (
        <Write
          unit={unit}
          wanted={wanted}
          ask={ask}
          may={maySave}
          ready={Boolean(s?.configured)}
          simulated={Boolean(s?.simulated)}
          onWritten={() => void state.refetch()}
        />
      )}
    </section>
  );
}

type WriteProps = {
  unit: number;
  wanted?: number;
  ask: SpeedoRequest;
  may: boolean;
  ready: boolean;
  simulated: boolean;
  onWritten: () => void;
};

/** Writes a value and reads it back, or saves what was written by hand. */
function Write({ unit, wanted, ask, may, ready, simulated, onWritten }: WriteProps) {
  const { own, setOwn, value, pulses, bad } = useValue(wanted);
  const [note, setNote] = useState("");
  const [fault, setFault] = useState<Fault>("none");
  const touch = useTouchUnit(unit);
  const write = useMutation({
    mutationFn: () =>
      take(
        api.POST("/units/{id}/calibrations", { params: { path: { id: unit } }, body: { pulses_per_km: pulses, note } }),
      ),
    onSuccess: () => {
      setNote("");
      setFault("none");
      onWritten();
      touch();
    },
  });
  const byHand = useDecide(unit, () => setNote(""));
  const simulate = useMutation({
    mutationFn: (fault: Fault) => take(api.POST("/programmer/fault", { body: { fault } })),
  });
  return (
    <>
      {may && (
        <div className={`${classes.write} no-print`}>
          <TextInput
            label="Pulses per km to write"
            inputMode="decimal"
            value={value}
            onChange={(x) => setOwn(x.currentTarget.value)}
            error={bad || undefined}
            rightSectionWidth={64}
            rightSection={
              own !== undefined && wanted !== undefined ? (
                <button type="button" className="linklike" onClick={() => setOwn(undefined)}>
                  as found
                </button>
              ) : undefined
            }
          />
          <Textarea
            label="Note"
            value={note}
            autosize
            minRows={1}
            maxLength={1000}
            onChange={(x) => setNote(x.currentTarget.value)}
          />
          {simulated && (
            <NativeSelect
              label="Simulated programmer, at the next write"
              value={fault}
              onChange={(x) => {
                const next = x.currentTarget.value as Fault;
                setFault(next);
                simulate.mutate(next);
              }}
              data={[...faults]}
            />
          )}
          <Button
            color="brass.4"
            autoContrast
            disabled={bad !== undefined || !ready}
            loading={write.isPending}
            onClick={() => write.mutate()}
          >
            Write and read back
          </Button>
          <Button
            variant="default"
            disabled={wanted === undefined}
            loading={byHand.isPending}
            onClick={() => byHand.mutate({ kind: "speedometer", speedometer: ask, note })}
          >
            Written by hand: save
          </Button>
        </div>
      )}
      <p className={classes.caution}>
        △ Ignition as the unit's manual says, charger on, engine off, nothing unplugged while it writes.
      </p>
      {[write.error, byHand.error, simulate.error].map(
        (e) =>
          e && (
            <p key={e.message} className="trouble" role="alert">
              {e.message}
            </p>
          ),
      )}
      {write.data && <Outcome c={write.data} />}
    </>
  );
}

/** What a write came to, with what was in the unit before and after. */
function Outcome({ c }: { c: Calibration }) {
  const say = (v: number | undefined) => (v === undefined ? "not known" : fixed(v, 0));
  return (
    <div
      className={`${classes.outcome} ${c.written ? "is-written" : "is-failed"}`}
      role={c.written ? "status" : "alert"}
    >
      <b>{c.written ? "✓ Written and read back" : "✕ Not written"}</b>
      <p>{c.text}</p>
      <table className="figures">
        <tbody>
          <tr>
            <th scope="row">before</th>
            <td className="num">{say(c.before)}</td>
          </tr>
          <tr>
            <th scope="row">wanted</th>
            <td className="num">{say(c.wanted)}</td>
          </tr>
          <tr>
            <th scope="row">after</th>
            <td className="num">{say(c.after)}</td>
          </tr>
        </tbody>
      </table>
      <small>Saved in the unit's history.</small>
    </div>
  );
}
