import { Alert, Button, Checkbox, NativeSelect, Textarea } from "@mantine/core";
import { useQueries, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import {
  api,
  type ChangeGearsAnswer,
  type ChangeGearsEvent,
  type ChangeGearsRequest,
  type NewDecision,
  Refused,
  take,
} from "../../api/client";
import { key } from "../../api/keys";
import { useMaySave } from "../../app/session";
import { useUnits } from "../../app/units";
import { bind } from "../../form/bind";
import { downloadCSV } from "../../format/csv";
import { change, fixed, fromKMH, speedUnit, when } from "../../format/numbers";
import { useDecide } from "../useDecide";
import classes from "./changegear.module.css";
import { type Event, eventOf, type Form, noEvent } from "./model";

type Props = {
  answer: ChangeGearsAnswer;
  ask: ChangeGearsRequest;
  form: Form;
  set: (v: Partial<Form>) => void;
  unit?: number;
  way?: { name: string; set: string; input: number; pinion: number };
};

type Logged = {
  event: ChangeGearsEvent;
  logged: { overall: { label: string }; off_percent?: number; kmh?: number; text: string };
};

/** How many of the newest sessions are shown in full. */
const shown = 20;

/** The unit's sessions at tracks, newest first. */
function useEvents(unit?: number) {
  const list = useQuery({
    queryKey: key.decisions(unit),
    queryFn: () => take(api.GET("/units/{id}/decisions", { params: { path: { id: unit ?? 0 } } })),
    enabled: unit !== undefined,
  });
  const events = (list.data ?? []).filter((d) => d.kind === "event").slice(0, shown);
  const full = useQueries({
    queries: events.map((e) => ({
      queryKey: key.decision(e.id),
      queryFn: () => take(api.GET("/decisions/{id}", { params: { path: { id: e.id } } })),
      staleTime: Number.POSITIVE_INFINITY,
    })),
  });
  return full.flatMap((q) =>
    q.data ? [{ id: q.data.id, at: q.data.at, by: q.data.by, ...(q.data.answer as unknown as Logged) }] : [],
  );
}

/** Log of sessions: what was fitted by count, and what came of it; the next visit starts from the last one. */
export function EventPanel({ answer, ask, form, set, unit, way }: Props) {
  const [units] = useUnits();
  const maySave = useMaySave();
  const events = useEvents(unit);
  const e = { ...noEvent, ...form.event };
  const put = (v: Partial<Event>) => set({ event: { ...e, ...v } });
  const log = useDecide(unit, () => set({ event: { ...noEvent, track: e.track, tire: e.tire, gear: e.gear } }));
  const refused = log.error instanceof Refused ? log.error : undefined;
  const f = bind<Event, NewDecision>(e, put, refused, { at: "" });
  const before = events.find((x) => x.event.track.toLowerCase() === e.track.trim().toLowerCase());
  const tracks = [...new Set(events.map((x) => x.event.track))];
  const speed = speedUnit(units);
  const csv = () =>
    downloadCSV("sessions.csv", [
      [
        "date",
        "track",
        "session",
        "set",
        "input",
        "pinion",
        "overall",
        "gear",
        "peak_rpm",
        "peak_kmh",
        "off_percent",
        "tire",
        "weather",
        "words",
      ],
      ...events.map((x) => [
        x.at,
        x.event.track,
        x.event.session ?? "",
        x.event.set ?? "",
        x.event.after.input,
        x.event.after.pinion,
        x.logged.overall.label,
        x.event.gear ?? "",
        x.event.peak_rpm ?? "",
        x.event.peak_kmh ?? "",
        x.logged.off_percent ?? "",
        x.event.tire ?? "",
        x.event.weather ?? "",
        x.event.words ?? "",
      ]),
    ]);
  return (
    <div className={classes.event}>
      {unit === undefined ? (
        <p className="dim">
          Sessions are saved with a unit. Open the car under <Link to="/units">Units</Link> and log them there.
        </p>
      ) : (
        <form
          className="stack"
          onSubmit={(x) => {
            x.preventDefault();
            log.mutate({
              kind: "event",
              change_gears: { ...ask, goal: undefined },
              event: eventOf(e, units),
            });
          }}
        >
          <h2>Log a session: count both gears, out and in</h2>
          <div className={classes.four}>
            {f.text("Track", "track", { field: "event/track", list: "cg-tracks" })}
            <datalist id="cg-tracks">
              {tracks.map((t) => (
                <option key={t} value={t} />
              ))}
            </datalist>
            {f.text("Session", "session", { field: "event/session" })}
            {f.text("Tire and pressure", "tire", { field: "event/tire" })}
            {f.text("Weather", "weather", { field: "event/weather" })}
          </div>
          {before && (
            <Alert color="board" className={classes.last}>
              Last time here ({when(before.at)}): {before.event.set ? `set ${before.event.set}, ` : ""}
              {before.event.after.input} on the input shaft, {before.event.after.pinion} on the pinion shaft,{" "}
              {before.logged.overall.label} overall
              {before.event.peak_rpm ? `; peak ${before.event.peak_rpm} rpm` : ""}
              {before.event.peak_kmh ? ` at ${fixed(fromKMH(before.event.peak_kmh, units), 0)} ${speed}` : ""}
              {before.event.words ? `; “${before.event.words}”` : ""}.{" "}
              <button
                type="button"
                className="linklike"
                onClick={() => {
                  set({
                    input: String(before.event.after.input),
                    pinion: String(before.event.after.pinion),
                    event: {
                      ...e,
                      set: before.event.set ?? "",
                      input: String(before.event.after.input),
                      pinion: String(before.event.after.pinion),
                      gear: before.event.gear ?? "",
                      tire: e.tire || (before.event.tire ?? ""),
                    },
                  });
                }}
              >
                Start from these figures
              </button>
            </Alert>
          )}
          <div className={classes.four}>
            {f.text("Came out: input shaft", "outInput", { field: "event/before/input", numeric: true })}
            {f.text("Came out: pinion shaft", "outPinion", { field: "event/before/pinion", numeric: true })}
            {f.text("Went in: input shaft", "input", { field: "event/after/input", numeric: true })}
            {f.text("Went in: pinion shaft", "pinion", { field: "event/after/pinion", numeric: true })}
          </div>
          <div className={classes.four}>
            {f.text("Set, as it is called", "set", { field: "event/set" })}
            {f.text("Peak rpm", "rpm", { field: "event/peak_rpm", numeric: true })}
            {f.text(`Peak speed, ${speed}`, "kmh", { field: "event/peak_kmh", numeric: true })}
            <NativeSelect
              label="in gear"
              value={e.gear}
              onChange={(x) => put({ gear: x.currentTarget.value })}
              error={refused?.field("/event/gear")}
              data={[{ value: "", label: `${answer.gear}` }, ...answer.gears.filter((g) => g !== answer.gear)]}
            />
          </div>
          {way?.set && (
            <button
              type="button"
              className="linklike"
              onClick={() => put({ set: way.name, input: String(way.input), pinion: String(way.pinion) })}
            >
              Use the set picked on the ladder: set {way.name}, {way.input} in, {way.pinion} on pinion
            </button>
          )}
          <Textarea
            label="The driver's words"
            autosize
            minRows={2}
            value={e.words}
            onChange={(x) => put({ words: x.currentTarget.value })}
            error={refused?.within("/event/words")}
          />
          {refused?.field("/event/after/input") && (
            <Checkbox
              label="Counted twice: the count is right, whatever the box says"
              checked={e.sure}
              onChange={(x) => put({ sure: x.currentTarget.checked })}
            />
          )}
          {log.error && !refused?.within("/event") && <p className="trouble">{log.error.message}</p>}
          <div className="row">
            <Button type="submit" disabled={!maySave} loading={log.isPending}>
              Save this session
            </Button>
            {!maySave && <span className="dim">Sign in to keep it.</span>}
          </div>
        </form>
      )}
      {events.length > 0 && (
        <section>
          <div className="row spread">
            <h2>Sessions so far</h2>
            <Button size="compact-sm" variant="default" onClick={csv}>
              CSV
            </Button>
          </div>
          <ol className={classes.sessions}>
            {events.map((x) => (
              <li key={x.id}>
                <b>
                  {x.event.track}
                  {x.event.session ? `, ${x.event.session}` : ""}
                </b>
                <span>
                  {x.logged.overall.label} · {x.event.after.input} in, {x.event.after.pinion} on pinion
                  {x.event.peak_rpm ? ` · ${x.event.peak_rpm} rpm` : ""}
                  {x.event.peak_kmh ? ` · ${fixed(fromKMH(x.event.peak_kmh, units), 0)} ${speed}` : ""}
                  {x.logged.off_percent !== undefined ? ` · ${change(x.logged.off_percent)}` : ""}
                </span>
                <span>{x.logged.text}</span>
                <small className="dim">
                  {x.event.weather ? `${x.event.weather} · ` : ""}
                  {x.event.words ? `“${x.event.words}” · ` : ""}
                  {x.by}, {when(x.at)}
                </small>
              </li>
            ))}
          </ol>
        </section>
      )}
    </div>
  );
}
