import { Button, Checkbox, Loader, NativeSelect, Textarea } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { blocking } from "../../api/blocking";
import { api, type Job, type JobState, type NewWork, Refused, take, type Work } from "../../api/client";
import { askAnew, key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useKept } from "../../app/local";
import { submit, useOwnWaiting } from "../../app/outbox";
import { useMaySave, useSession } from "../../app/session";
import { useTitle } from "../../app/title";
import { when } from "../../format/numbers";
import { partName } from "../../machine/document";
import { SignInFirst } from "../../people/SignInFirst";
import { Evidence } from "../marks/Evidence";
import { useUnit } from "../useUnit";
import { factLine } from "./facts";
import classes from "./service.module.css";
import { entryKey, hours, jobStates, stateWords } from "./states";
import { WorkForm } from "./WorkForm";

/** A visit of a unit, from complaint to hand-over. */
export function JobPage() {
  const id = Number(useParams().id);
  const maySave = useMaySave();
  const job = useQuery({
    queryKey: key.job(id),
    queryFn: () => take(api.GET("/jobs/{id}", { params: { path: { id } } })),
    refetchInterval: (q) => (q.state.data?.job.closed_at ? false : 10_000),
  });
  const unit = job.data?.job.unit_id;
  const waiting = useOwnWaiting().filter((w) => w.post.to === "line" && w.post.job === id);
  useTitle(job.data?.job.complaint, job.data?.job.unit);
  const { put, enter } = useLines(id, job.data?.job.unit);
  const stop = blocking(job);
  if (stop) return <SignInFirst error={stop} />;
  if (!job.data || unit === undefined) return <Loader m="xl" />;
  const { job: j, work, hand_over } = job.data;
  const open = !j.closed_at;
  return (
    <>
      <Band>
        <div className="row spread grow">
          <h1>
            <Link to={`/units/${j.unit_id}`}>{j.unit}</Link>
            <span> · job</span>
          </h1>
          <Sheets job={id} />
        </div>
      </Band>
      <main id="main" className="page wide">
        <div className="decide-plate">
          <div>
            <h2>{j.complaint}</h2>
            <p>
              {factLine(j)}
              Opened by {j.by}, {when(j.at)}; {hours(j.minutes)} so far.
            </p>
          </div>
        </div>
        <div className={classes.job}>
          <section aria-label="Cause and correction">
            <h2>Cause and correction</h2>
            <Log work={work} unit={unit} job={id} open={open} />
            {waiting.length > 0 && (
              <p role="status">
                {waiting.length === 1 ? "1 line waits" : `${waiting.length} lines wait`} on this device until the server
                has {waiting.length === 1 ? "it" : "them"}.
              </p>
            )}
            {open && maySave && (
              <WorkForm
                unit={unit}
                store={`zorvel.job.${id}`}
                kinds={["finding", "work", "note", "meter", "service"]}
                send={(body) => enter.mutateAsync(body)}
              />
            )}
            {hand_over && (
              <>
                <h2>Note to the owner</h2>
                <p className={classes.lines}>{hand_over}</p>
              </>
            )}
          </section>
          <section aria-label="Status">
            <Status
              job={j}
              maySave={maySave}
              enter={(line) => enter.mutate({ key: entryKey(), ...line })}
              error={enter.error}
            />
            <Results unit={unit} job={job.data} />
            {open && maySave && <Close job={job.data} onClosed={put} />}
          </section>
        </div>
      </main>
    </>
  );
}

/** Takes in lines of a job, now or when there is a network again. */
function useLines(id: number, unitName?: string) {
  const client = useQueryClient();
  const put = (j: Job) => {
    client.setQueryData(key.job(id), j);
    askAnew(client, "jobs", j.job.unit_id);
    askAnew(client, "unit", j.job.unit_id);
  };
  const enter = useMutation({
    mutationFn: (body: NewWork) =>
      submit<Job>({
        key: body.key,
        says: [unitName, body.text || body.what || body.kind].filter(Boolean).join(": "),
        post: { to: "line", job: id, line: body },
      }),
    onSuccess: (j) => j && put(j),
  });
  return { put, enter };
}

/** The job on paper: for the shop and for the owner. */
function Sheets({ job }: { job: number }) {
  const sheet = (words: string, query: string) => (
    <Button component="a" variant="default" href={`/api/v1/jobs/${job}/pdf${query}`} target="_blank" rel="noreferrer">
      {words}
    </Button>
  );
  return (
    <div className="row wrap">
      {sheet("Job sheet", "")}
      {sheet("Owner's sheet", "?sheet=owner")}
    </div>
  );
}

type StatusProps = {
  job: Job["job"];
  maySave: boolean;
  enter: (line: Omit<NewWork, "key">) => void;
  error: Error | null;
};

/** Where the job is, and who holds it. */
function Status({ job: j, maySave, enter, error }: StatusProps) {
  const me = useSession().data?.person?.name;
  if (j.closed_at)
    return (
      <>
        <h2>Status</h2>
        <p>
          Closed {when(j.closed_at)}; done by {j.who}.
        </p>
      </>
    );
  return (
    <>
      <h2>Status</h2>
      <div className={classes.stands}>
        <NativeSelect
          label="State"
          data={jobStates}
          value={j.state}
          disabled={!maySave}
          onChange={(e) => enter({ kind: "state", what: e.currentTarget.value as JobState })}
        />
        <p>
          Assigned to <b>{j.who}</b>.{" "}
          {maySave && me && me !== j.who && (
            <button type="button" className="linklike" onClick={() => enter({ kind: "taken", what: me })}>
              Assign to me
            </button>
          )}
        </p>
        {error && <p className="trouble">{error.message}</p>}
      </div>
    </>
  );
}

/** The benches of the unit, and what they gave during the job. */
function Results({ unit, job: { decisions, cards } }: { unit: number; job: Job }) {
  return (
    <>
      <h2>Benches</h2>
      <p>
        <Link to={`/units/${unit}`}>Measure</Link>, <Link to={`/units/${unit}/find-fault`}>find the fault</Link>,{" "}
        <Link to={`/units/${unit}/cards`}>work by a card</Link>, <Link to={`/units/${unit}/service`}>what is due</Link>
      </p>
      {(decisions.length > 0 || cards.length > 0) && (
        <ul className={classes.list}>
          {cards.map((c) => (
            <li key={`card ${c.id}`}>
              <Link to={`/card-runs/${c.id}`}>{c.title}</Link>
              <small className="dim">{c.closed ? "card, closed" : "card, in progress"}</small>
            </li>
          ))}
          {decisions.map((d) => (
            <li key={d.id}>
              {d.title}
              <small className="dim">
                {d.by}, {when(d.at)}
              </small>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** What was entered, in order. */
function Log({ work, unit, job, open }: { work: Work[]; unit: number; job: number; open: boolean }) {
  const { line } = useUnit(unit);
  const name = (part: string) => {
    const p = line?.document.parts.find((x) => x.id === part);
    return p ? `${partName(p)}: ` : "";
  };
  const words = (w: Work): string => {
    switch (w.kind) {
      case "state":
        return `now ${stateWords(w.what as JobState)}`;
      case "taken":
        return `assigned to ${w.what}`;
      case "closed":
        return "closed";
      case "service":
        return [`served: ${w.what}`, w.text].filter(Boolean).join(". ");
      case "meter":
        return `meter: ${[
          w.km !== undefined && `${w.km} km`,
          w.hours !== undefined && `${w.hours} h`,
          w.sessions !== undefined && `${w.sessions} sessions`,
          w.meter?.replace("_", " "),
        ]
          .filter(Boolean)
          .join(", ")}`;
      case "finding":
        return `found: ${w.text}`;
      case "work":
        return `${w.text}${w.minutes ? ` (${hours(w.minutes)})` : ""}`;
      default:
        return w.text;
    }
  };
  return (
    <ol className={classes.list}>
      {work.map((w) => (
        <li key={w.id} id={`entry-${w.id}`} className={["state", "taken", "closed"].includes(w.kind) ? "dim" : ""}>
          <div className={classes.lines}>
            {name(w.part)}
            {words(w)}
          </div>
          <small className="dim">
            {w.by}, <a href={`#entry-${w.id}`}>{when(w.done_at)}</a>
          </small>
          {["finding", "work", "note"].includes(w.kind) && (
            <Evidence unit={unit} of={{ work: w.id }} title={w.text} part={w.part || undefined} job={job} may={open} />
          )}
        </li>
      ))}
    </ol>
  );
}

/** Closing asks for what is still open: it is done, or left so on purpose. */
function Close({ job, onClosed }: { job: Job; onClosed: (j: Job) => void }) {
  const [accepted, setAccepted] = useState<string[]>([]);
  const [handOver, setHandOver] = useKept(`zorvel.job.${job.job.id}.handover`, "");
  const close = useMutation({
    mutationFn: () =>
      take(
        api.POST("/jobs/{id}/close", {
          params: { path: { id: job.job.id } },
          body: { hand_over: handOver, accept: accepted },
        }),
      ),
    onSuccess: (j) => {
      setHandOver("");
      onClosed(j);
      notifications.show({ message: "Closed and delivered." });
    },
  });
  const left = job.open.filter((o) => !accepted.includes(o.id));
  const refused = close.error instanceof Refused ? close.error : undefined;
  return (
    <>
      <h2>Hand over</h2>
      {job.open.map((o) => (
        <Checkbox
          key={o.id}
          label={
            <>
              <b>{o.what}</b>
              <small className={classes.why}>{o.why.replace(/\.$/, "")}. Left open on purpose.</small>
            </>
          }
          checked={accepted.includes(o.id)}
          onChange={(e) =>
            setAccepted(e.currentTarget.checked ? [...accepted, o.id] : accepted.filter((x) => x !== o.id))
          }
        />
      ))}
      <Textarea
        label="Note to the owner and to the next technician"
        autosize
        minRows={2}
        value={handOver}
        onChange={(e) => setHandOver(e.currentTarget.value)}
        error={refused?.within("/hand_over")}
      />
      <Button disabled={left.length > 0} loading={close.isPending} onClick={() => close.mutate()}>
        Close the job
      </Button>
      {left.length > 0 && (
        <p className="dim">
          {left.length === 1
            ? "1 open item. Finish it, or check that you are leaving it."
            : `${left.length} open items. Finish them, or check the ones you are leaving.`}
        </p>
      )}
      {close.error && !refused?.within("/hand_over") && <p className="trouble">{close.error.message}</p>}
    </>
  );
}
