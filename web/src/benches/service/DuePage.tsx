import { Button, Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { blocking } from "../../api/blocking";
import { api, take } from "../../api/client";
import { key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useTitle } from "../../app/title";
import { SignInFirst } from "../../people/SignInFirst";
import classes from "./service.module.css";
import { dueMarks, dueName } from "./states";

/** What is due in the whole shop. */
export function DuePage() {
  useTitle("What is due");
  const due = useQuery({ queryKey: key.shopDue(), queryFn: () => take(api.GET("/service")) });
  const stop = blocking(due);
  if (stop) return <SignInFirst error={stop} />;
  if (!due.data) return <Loader m="xl" />;
  return (
    <>
      <Band>
        <div className="row spread grow">
          <h1>What is due</h1>
          <div className="row wrap">
            <Button component="a" variant="default" href="/api/v1/service.ics" download="due.ics">
              Calendar
            </Button>
            <Button component="a" variant="default" href="/api/v1/service.csv" download="due.csv">
              CSV
            </Button>
          </div>
        </div>
      </Band>
      <main id="main" className="page">
        <p className="dim">
          Units with a meter reading or a service on record. Intervals come from the{" "}
          <Link to="/shop/service_rules">shop's rules</Link>, or from the maker.
        </p>
        {due.data.length === 0 && <p>No service or meter reading on record yet.</p>}
        <ul className={classes.list}>
          {due.data.map((d) => (
            <li key={`${d.unit_id} ${d.due.what} ${d.due.part}`}>
              <div>
                <span aria-hidden="true">{dueMarks[d.due.state]?.[0]}</span>{" "}
                <Link to={`/units/${d.unit_id}/service`}>{d.unit}</Link>: <b>{dueName(d.due)}</b>,{" "}
                {dueMarks[d.due.state]?.[1]}
              </div>
              <small className="dim">{d.due.words}.</small>
            </li>
          ))}
        </ul>
      </main>
    </>
  );
}
