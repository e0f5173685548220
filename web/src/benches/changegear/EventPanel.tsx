import { Button, Checkbox, NativeSelect, Textarea } from "@mantine/core";
import { Link } from "react-router";
import {
  type ChangeGearsAnswer,
  type ChangeGearsEvent,
  type ChangeGearsRequest,
  type NewDecision,
  Refused,
} from "../../api/client";
import { useMaySave } from "../../app/session";
import { useUnits } from "../../app/units";
import { bind } from "../../form/bind";
import { speedUnit } from "../../format/numbers";
import { useDecide } from "../useDecide";
import classes from "./changegear.module.css";
import { type Event, eventOf, type Form, noEvent } from "./model";
import { LastTimeHere, Sessions } from "./Sessions";
import { useEvents } from "./useEvents";

type Props = {
  answer: ChangeGearsAnswer;
  ask: ChangeGearsRequest;
  form: Form;
  set: (v: Partial<Form>) => void;
  unit?: number;
  way?: { name: string; set: string; input: number; pinion: number };
};

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
          {before && <LastTimeHere event={before} onTake={() => set(again(e, before.event))} />}
          <WentInAndOut f={f} answer={answer} gear={e.gear} onGear={(gear) => put({ gear })} refused={refused} />
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
      {events.length > 0 && <Sessions events={events} />}
    </div>
  );
}

/** The gears of an earlier session, with its tire where none is told. */
function again(e: Event, was: ChangeGearsEvent) {
  const fitted = { input: String(was.after.input), pinion: String(was.after.pinion) };
  return {
    ...fitted,
    event: { ...e, ...fitted, set: was.set ?? "", gear: was.gear ?? "", tire: e.tire || (was.tire ?? "") },
  };
}

interface Counted {
  f: ReturnType<typeof bind<Event, NewDecision>>;
  answer: Props["answer"];
  gear: string;
  onGear: (gear: string) => void;
  refused?: Refused;
}

/** Both gears that came out, both that went in, and what was reached with them. */
function WentInAndOut({ f, answer, gear, onGear, refused }: Counted) {
  const [units] = useUnits();
  return (
    <>
      <div className={classes.four}>
        {f.text("Came out: input shaft", "outInput", { field: "event/before/input", numeric: true })}
        {f.text("Came out: pinion shaft", "outPinion", { field: "event/before/pinion", numeric: true })}
        {f.text("Went in: input shaft", "input", { field: "event/after/input", numeric: true })}
        {f.text("Went in: pinion shaft", "pinion", { field: "event/after/pinion", numeric: true })}
      </div>
      <div className={classes.four}>
        {f.text("Set, as it is called", "set", { field: "event/set" })}
        {f.text("Peak rpm", "rpm", { field: "event/peak_rpm", numeric: true })}
        {f.text(`Peak speed, ${speedUnit(units)}`, "kmh", { field: "event/peak_kmh", numeric: true })}
        <NativeSelect
          label="in gear"
          value={gear}
          onChange={(x) => onGear(x.currentTarget.value)}
          error={refused?.field("/event/gear")}
          data={[{ value: "", label: `${answer.gear}` }, ...answer.gears.filter((g) => g !== answer.gear)]}
        />
      </div>
    </>
  );
}
