import { Link } from "react-router";
import { JobCard, useJobs } from "./JobsPage";
import classes from "./service.module.css";
import { stateWords } from "./states";
import "../../app/laterStyles";

/** Today's jobs, on the first page of who is signed in: one's own first. */
export function TodaysJobs({ me }: { me: string }) {
  const jobs = useJobs();
  const open = [...(jobs.data?.open ?? [])].sort((a, b) => Number(b.who === me) - Number(a.who === me));
  if (open.length === 0) return null;
  return (
    <section className={classes.today} aria-label="Today's jobs">
      <h2>
        Today's jobs <Link to="/jobs">all {open.length}</Link> <Link to="/due">what is due</Link>
      </h2>
      <div className={classes.row}>
        {open.slice(0, 4).map((j) => (
          <div key={j.id}>
            <small>{stateWords(j.state)}</small>
            <JobCard job={j} />
          </div>
        ))}
      </div>
    </section>
  );
}
