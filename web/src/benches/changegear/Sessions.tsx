import { Alert, Button } from "@mantine/core";
import { useUnits } from "../../app/units";
import { downloadCSV } from "../../format/csv";
import { change, fixed, fromKMH, speedUnit, when } from "../../format/numbers";
import classes from "./changegear.module.css";
import type { LoggedEvent } from "./useEvents";

/** What was fitted and came of it the last time at a track, to start from. */
export function LastTimeHere({ event: before, onTake }: { event: LoggedEvent; onTake: () => void }) {
  const [units] = useUnits();
  const speed = speedUnit(units);
  return (
    <Alert color="board" className={classes.last}>
      Last time here ({when(before.at)}): {before.event.set ? `set ${before.event.set}, ` : ""}
      {before.event.after.input} on the input shaft, {before.event.after.pinion} on the pinion shaft,{" "}
      {before.logged.overall.label} overall
      {before.event.peak_rpm ? `; peak ${before.event.peak_rpm} rpm` : ""}
      {before.event.peak_kmh ? ` at ${fixed(fromKMH(before.event.peak_kmh, units), 0)} ${speed}` : ""}
      {before.event.words ? `; “${before.event.words}”` : ""}.{" "}
      <button type="button" className="linklike" onClick={onTake}>
        Start from these figures
      </button>
    </Alert>
  );
}

/** The sessions so far, newest first. */
export function Sessions({ events }: { events: LoggedEvent[] }) {
  const [units] = useUnits();
  const speed = speedUnit(units);
  return (
    <section>
      <div className="row spread">
        <h2>Sessions so far</h2>
        <Button size="compact-sm" variant="default" onClick={() => sessionsCSV(events)}>
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
  );
}

const sessionsCSV = (events: LoggedEvent[]) =>
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
