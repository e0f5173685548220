import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import type { CardRun, Job, Photo, StageRecord } from "../api/client";
import { askAnew, key } from "../api/keys";
import { onSent, useSending, useWaiting } from "./outbox";
import { toldAfter } from "./queue";
import { useSession } from "./session";
import classes from "./waiting.module.css";

/** Sends what waits on this device from whatever page is open, and says how much waits. */
export function Outbox() {
  const client = useQueryClient();
  useSending(useSession().data?.person?.id);
  useEffect(
    () =>
      onSent((w, answer) => {
        switch (w.post.to) {
          case "reading": {
            const r = answer as StageRecord;
            client.setQueryData(key.stage(r.id), r);
            askAnew(client, "unit", r.unit_id);
            break;
          }
          case "step": {
            const r = answer as CardRun;
            client.setQueryData(key.cardRun(r.id), r);
            break;
          }
          case "line": {
            const j = answer as Job;
            client.setQueryData(key.job(j.job.id), j);
            askAnew(client, "jobs", j.job.unit_id);
            askAnew(client, "unit", j.job.unit_id);
            break;
          }
          case "photo":
            askAnew(client, "photos", (answer as Photo).unit_id);
        }
      }),
    [client],
  );
  const waiting = useWaiting();
  if (waiting.length === 0) return null;
  const refused = waiting.some((w) => w.refused || (w.tries ?? 0) >= toldAfter);
  return (
    <Link to="/waiting" className={classes.mark} data-refused={refused || undefined}>
      {waiting.length} {refused ? "not sent" : "waiting"}
    </Link>
  );
}
