import type { ServiceDue } from "../../api/client";
import classes from "./service.module.css";
import { dueMarks, dueName } from "./states";

/** What is due, the most urgent first, each with why and where its rule comes from. */
export function DueList({ due }: { due: ServiceDue[] }) {
  if (due.length === 0) return <p className="dim">Nothing is due that the rules know of.</p>;
  return (
    <ul className={classes.list}>
      {due.map((d) => (
        <li key={`${d.what} ${d.part}`}>
          <div>
            <span aria-hidden="true">{dueMarks[d.state]?.[0]}</span> <b>{dueName(d)}</b>: {dueMarks[d.state]?.[1]}
          </div>
          <small className="dim">
            {d.words} ({d.source}).
          </small>
        </li>
      ))}
    </ul>
  );
}
