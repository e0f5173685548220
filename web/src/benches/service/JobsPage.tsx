import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { blocking } from "../../api/blocking";
import { api, type JobSummary, take } from "../../api/client";
import { key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useTitle } from "../../app/title";
import { when } from "../../format/numbers";
import { SignInFirst } from "../../people/SignInFirst";
import classes from "./service.module.css";
import { hours, jobStates } from "./states";

export const useJobs = (enabled = true) =>
  useQuery({ queryKey: key.jobs(), queryFn: () => take(api.GET("/jobs")), enabled, refetchInterval: 30_000 });

/** Every job that is open, by how it stands, and those that were closed last. */
export function JobsPage() {
  useTitle("Jobs");
  const jobs = useJobs();
  const stop = blocking(jobs);
  if (stop) return <SignInFirst error={stop} />;
  if (!jobs.data) return <Loader m="xl" />;
  const { open, closed } = jobs.data;
  return (
    <>
      <Band>
        <div className="row spread grow">
          <h1>Jobs</h1>
          <Link to="/due">What is due</Link>
        </div>
      </Band>
      <main id="main" className="page wide">
        {open.length === 0 && (
          <p className="dim">
            No open jobs. Open one on its unit: <Link to="/units">find it</Link>, then <b>Jobs and service</b>.
          </p>
        )}
        <div className={classes.board}>
          {jobStates.map((s) => {
            const here = open.filter((j) => j.state === s.value);
            return (
              <section key={s.value} aria-label={s.label}>
                <h2>
                  {s.label} <small>{here.length}</small>
                </h2>
                {here.map((j) => (
                  <JobCard key={j.id} job={j} />
                ))}
              </section>
            );
          })}
        </div>
        {closed.length > 0 && (
          <>
            <h2>Closed</h2>
            <ul className={classes.list}>
              {closed.map((j) => (
                <li key={j.id}>
                  <div>
                    <Link to={`/jobs/${j.id}`}>{j.unit}</Link>: {j.complaint}
                  </div>
                  <small className="dim">
                    {j.who}, {hours(j.minutes)}, {j.closed_at && when(j.closed_at)}
                  </small>
                </li>
              ))}
            </ul>
          </>
        )}
      </main>
    </>
  );
}

export function JobCard({ job: j }: { job: JobSummary }) {
  return (
    <Link to={`/jobs/${j.id}`} className={classes.card}>
      <b>{j.unit}</b>
      <span>{j.complaint}</span>
      <small>
        {j.who}, {hours(j.minutes)} · since {when(j.at)}
      </small>
    </Link>
  );
}
