import { Button, Loader, Textarea, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, type JobFacts, type NewWork, Refused, take } from "../../api/client";
import { askAnew, key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useKept } from "../../app/local";
import { useMaySave } from "../../app/session";
import { useTitle } from "../../app/title";
import { when } from "../../format/numbers";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { DueList } from "./DueList";
import { factNames, facts } from "./facts";
import classes from "./service.module.css";
import { entryKey, hours, stateWords } from "./states";
import { useService, WorkForm } from "./WorkForm";

/** A unit's jobs, a new one, and what is due on it. */
export function UnitServicePage() {
  const id = Number(useParams().id);
  const path = { params: { path: { id } } };
  const { unit, error } = useUnit(id);
  const maySave = useMaySave();
  const client = useQueryClient();
  const service = useService(id);
  const jobs = useQuery({ queryKey: key.unitJobs(id), queryFn: () => take(api.GET("/units/{id}/jobs", path)) });
  useTitle("Jobs and service", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !service.data) return <Loader m="xl" />;
  const { answer, trouble } = service.data;
  const enter = async (body: NewWork) => {
    client.setQueryData(key.service(id), await take(api.POST("/units/{id}/service", { ...path, body })));
    askAnew(client, "due");
  };
  const open = jobs.data?.filter((j) => !j.closed_at) ?? [];
  const closed = jobs.data?.filter((j) => j.closed_at) ?? [];
  return (
    <>
      <Band>
        <h1>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · jobs and service</span>
        </h1>
      </Band>
      <main id="main" className="page wide">
        <div className={classes.job}>
          <section aria-label="Jobs">
            <h2>Jobs</h2>
            {open.length === 0 && <p className="dim">No job is open on this unit.</p>}
            <ul className={classes.list}>
              {[...open, ...closed].map((j) => (
                <li key={j.id}>
                  <Link to={`/jobs/${j.id}`}>{j.complaint}</Link>
                  <small className="dim">
                    {j.closed_at ? `closed ${when(j.closed_at)}` : stateWords(j.state)}, {j.who}, {hours(j.minutes)}
                  </small>
                </li>
              ))}
            </ul>
            {maySave && <NewJob unit={id} />}
          </section>
          <section aria-label="Service">
            <h2>Due</h2>
            {trouble && <p className="trouble">{trouble}</p>}
            <Now now={answer.now} />
            <DueList due={answer.due} />
            {maySave && (
              <>
                <h2>Read or served without a job</h2>
                <WorkForm unit={id} store={`zorvel.service.${id}`} kinds={["meter", "service"]} send={enter} />
              </>
            )}
          </section>
        </div>
      </main>
    </>
  );
}

function Now({
  now,
}: {
  now: { hours?: number; km?: number; sessions?: number; hours_per_day?: number; km_per_day?: number };
}) {
  const list = [
    now.km !== undefined && `${now.km} km${now.km_per_day ? `, ${now.km_per_day} a day` : ""}`,
    now.hours !== undefined && `${now.hours} h${now.hours_per_day ? `, ${now.hours_per_day} a day` : ""}`,
    now.sessions !== undefined && `${now.sessions} sessions`,
  ].filter(Boolean);
  if (list.length === 0) return <p className="dim">No meter was read yet.</p>;
  return <p>It has run {list.join("; ")}, over all its meters.</p>;
}

type Told = { complaint: string } & JobFacts;

const nothing: Told = { complaint: "" };

/** A new job: the complaint in the owner's words. */
function NewJob({ unit }: { unit: number }) {
  const [form, keep] = useKept<Told>(`zorvel.newjob.${unit}`, nothing);
  const [id] = useState(entryKey);
  const navigate = useNavigate();
  const client = useQueryClient();
  const open = useMutation({
    mutationFn: () =>
      take(
        api.POST("/units/{id}/jobs", {
          params: { path: { id: unit } },
          body: { key: id, ...form },
        }),
      ),
    onSuccess: (j) => {
      keep(nothing);
      askAnew(client, "jobs", unit);
      navigate(`/jobs/${j.job.id}`);
    },
  });
  const refused = open.error instanceof Refused ? open.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    open.mutate();
  };
  return (
    <form className={classes.form} onSubmit={submit}>
      <h2>Open a job</h2>
      <Textarea
        label="Complaint, in the owner's words"
        autosize
        minRows={2}
        maxLength={2000}
        value={form.complaint}
        onChange={(e) => keep({ ...form, complaint: e.currentTarget.value })}
        error={refused?.within("/complaint")}
      />
      {factNames.map((name) => (
        <TextInput
          key={name}
          {...facts[name]}
          value={form[name] ?? ""}
          onChange={(e) => keep({ ...form, [name]: e.currentTarget.value })}
          error={refused?.within(`/${name}`)}
        />
      ))}
      <Button type="submit" disabled={!form.complaint.trim()} loading={open.isPending}>
        Open job
      </Button>
      {open.error && !(refused && refused.faults.length > 0) && <p className="trouble">{open.error.message}</p>}
    </form>
  );
}
