import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, take } from "../../api/client";
import { key } from "../../api/keys";
import { when } from "../../format/numbers";
import classes from "./listen.module.css";

/** A unit's saved recordings, newest first, each with what it was named. */
export function Recordings({ unit }: { unit: number }) {
  const list = useQuery({
    queryKey: key.recordings(unit),
    queryFn: () => take(api.GET("/units/{id}/recordings", { params: { path: { id: unit } } })),
  });
  if (!list.data?.length) return null;
  return (
    <section className={classes.saved} aria-label="Saved recordings">
      <h2>Recordings</h2>
      <ul>
        {list.data.map((r) => (
          <li key={r.id}>
            <Link to={`/recordings/${r.id}`}>{r.title}</Link>
            <span>{r.named}</span>
            <small className="dim">
              {Math.round(r.seconds)} s, {r.by}, {when(r.at)}
            </small>
          </li>
        ))}
      </ul>
    </section>
  );
}
