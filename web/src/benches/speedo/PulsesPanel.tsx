import { Button, NativeSelect, Textarea, TextInput } from "@mantine/core";
import { IconPlugConnected, IconRefresh } from "@tabler/icons-react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Calibration, type SpeedoRequest, take } from "../../api/client";
import { key } from "../../api/keys";
import { useMaySave, useSession } from "../../app/session";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { change, fixed } from "../../format/numbers";
import { AnswerPlate } from "../answer";
import { useDecide, useTouchUnit } from "../useDecide";
import type { PanelProps, SpeedoForm, useSpeedo } from "./model";
import "./speedo.css";

type Props = PanelProps & { ask: SpeedoRequest; result: ReturnType<typeof useSpeedo>; missing: (string | false)[] };

/** The calibration of an electronic speedometer. */
export function PulsesPanel({ form: f, set, unit, ask, result, missing }: Props) {
  const { answer, refused, error } = result;
  const e = answer?.electronic;
  const b = bind<SpeedoForm, NonNullable<SpeedoRequest["electronic"]>>(f, set, refused, { at: "/electronic" });
  return (
    <div className="stack">
      <div className="sp-fields no-print">
        {b.text("Tone ring teeth", "reluctor", { description: "pulses a turn of its shaft", numeric: true })}
        {b.text("Calibration now", "calibrated", { description: "leave blank if not known", numeric: true })}
        {b.choice("pulses per", "calPer", ["km", "mile"], { field: null, description: "as the unit counts" })}
      </div>
      {!e ? (
        <Waiting
          title="Which calibration?"
          missing={[...missing, !f.reluctor.trim() && "tone ring teeth: count them, or see the maker's manual"]}
          error={error}
        />
      ) : (
        <AnswerPlate>
          <div>
            <p className="decide-kicker">Calibration</p>
            <h2>{e.text}</h2>
            <small>{e.formula}</small>
          </div>
          <dl className="sp-numbers">
            <div>
              <dt>a km</dt>
              <dd>{fixed(e.pulses_per_km.decimal, 1)}</dd>
            </div>
            <div>
              <dt>a mile</dt>
              <dd>{fixed(e.pulses_per_mile.decimal, 1)}</dd>
            </div>
            {e.factor && (
              <div>
                <dt>correction factor</dt>
                <dd>{fixed(e.factor.decimal, 5)}</dd>
              </div>
            )}
            {e.percent_now !== undefined && (
              <div>
                <dt>reads now</dt>
                <dd>{change(e.percent_now, 2)}</dd>
              </div>
            )}
          </dl>
        </AnswerPlate>
      )}
      <details className="decide-box no-print" open={Boolean(f.pickupDrive || f.pickupDriven || f.toolRatios)}>
        <summary>A driven gear turns the speed sensor, or the tool takes listed figures only</summary>
        <div className="sp-fields">
          {b.text("Pickup: drive gear", "pickupDrive", {
            field: "drive",
            description: "leave blank if it sits on the shaft",
            numeric: true,
          })}
          {b.text("Pickup: driven gear", "pickupDriven", {
            field: "driven",
            description: "pulses are then per turn of it",
            numeric: true,
          })}
        </div>
        {b.text("The tool's axle ratios", "toolRatios", {
          field: "tool/ratios",
          placeholder: "3.08 3.42 3.73 4.10 4.56",
        })}
        <div className="four">
          {b.text("Tires from", "toolFrom", { field: "tool/from", numeric: true })}
          {b.text("to", "toolTo", { field: "tool/to", numeric: true })}
          {b.text("in steps of", "toolStep", { field: "tool/step", placeholder: "1", numeric: true })}
          {b.choice("Unit", "toolUnit", ["inch", "mm"], { field: null })}
        </div>
        {e?.entries && (
          <>
            <h3>Settings that never read low</h3>
            {e.entries.length === 0 && (
              <p>None: every setting of this tool would read low here. Use another tool, or correct by pulses.</p>
            )}
            <ol>
              {e.entries.map((x) => (
                <li key={x.text}>{x.text}</li>
              ))}
            </ol>
          </>
        )}
      </details>
      <Programmer
        unit={unit}
        wanted={e && Math.round(e.pulses_per_km.decimal)}
        ask={ask}
        onRead={(n) => set({ calibrated: String(n), calPer: "km" })}
      />
    </div>
  );
}

type Fault = (typeof faults)[number]["value"];
const faults = [
  { value: "none", label: "works" },
  { value: "timeout", label: "does not answer" },
  { value: "drop", label: "drops the line before it has written" },
  { value: "drop_after_write", label: "drops the line after it has written" },
  { value: "busy", label: "says it is busy" },
] as const;

/** The calibration programmer: what it reads, and writing through it. */
function Programmer({
  unit,
  wanted,
  ask,
  onRead,
}: {
  unit?: number;
  wanted?: number;
  ask: SpeedoRequest;
  onRead: (pulses: number) => void;
}) {
  const maySave = useMaySave();
  const person = useSession().data?.person;
  const [own, setOwn] = useState<string>();
  const [note, setNote] = useState("");
  const [fault, setFault] = useState<Fault>("none");
  const state = useQuery({
    queryKey: key.programmer(),
    queryFn: () => take(api.GET("/programmer")),
    enabled: Boolean(person),
    retry: false,
  });
  const touch = useTouchUnit(unit);
  const value = own ?? (wanted === undefined ? "" : String(wanted));
  const pulses = Number(value.trim().replace(",", "."));
  const s = state.data;
  const bad =
    value.trim() === "" ? "" : !(pulses > 0) || pulses > 1_000_000 ? "pulses per km, above 0 to 1 000 000" : undefined;
  const write = useMutation({
    mutationFn: () =>
      take(
        api.POST("/units/{id}/calibrations", {
          params: { path: { id: unit ?? 0 } },
          body: { pulses_per_km: pulses, note },
        }),
      ),
    onSuccess: () => {
      setNote("");
      setFault("none");
      void state.refetch();
      touch();
    },
  });
  const byHand = useDecide(unit, () => setNote(""));
  const simulate = useMutation({
    mutationFn: (fault: Fault) => take(api.POST("/programmer/fault", { body: { fault } })),
  });
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
        maySave && (
          <div className="sp-write no-print">
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
            {s?.simulated && (
              <NativeSelect
                label="The stand-in at the next write"
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
              disabled={bad !== undefined || !s?.configured}
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
        )
      )}
      {unit !== undefined && (
        <p className="sp-caution">
          △ Ignition as the unit's manual says, charger on, engine off, nothing unplugged while it writes.
        </p>
      )}
      {[write.error, byHand.error, simulate.error].map(
        (e) =>
          e && (
            <p key={e.message} className="trouble" role="alert">
              {e.message}
            </p>
          ),
      )}
      {write.data && <Outcome c={write.data} />}
    </section>
  );
}

/** What a write came to, with what was in the unit before and after. */
function Outcome({ c }: { c: Calibration }) {
  const say = (v: number | undefined) => (v === undefined ? "not known" : fixed(v, 0));
  return (
    <div className={`sp-outcome ${c.written ? "is-written" : "is-failed"}`} role={c.written ? "status" : "alert"}>
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
