import { Button, Modal } from "@mantine/core";
import { useState } from "react";
import { Link } from "react-router";
import { when } from "../format/numbers";
import { claim, retry, takeBack, useTrouble, useWaiting } from "./outbox";
import { toldAfter, type Waiting } from "./queue";
import { useSession } from "./session";
import { useTitle } from "./title";
import classes from "./waiting.module.css";

const kinds: Record<Waiting["post"]["to"], string> = {
  reading: "Reading",
  step: "Check-off",
  line: "Line of a job",
  photo: "Photo",
};

/** Everything that waits on this device, with why. */
export function WaitingPage() {
  useTitle("Waiting");
  const waiting = useWaiting();
  const trouble = useTrouble();
  const session = useSession().data;
  const me = session?.person;
  const [dropping, setDropping] = useState<Waiting>();
  const why = (w: Waiting) => {
    if (w.refused) return <span className="trouble">The server would not have it: {w.refused}</span>;
    if (!session) return "Waiting for the server. Tried again every few seconds.";
    if (w.person === 0) return "Entered before anyone signed in here. Whose is it?";
    if (me && w.person !== me.id) return "Someone else entered this. It waits until they sign in here.";
    if (!me || trouble === "signed_out") return "Waits until the person who entered it signs in.";
    if ((w.tries ?? 0) >= toldAfter)
      return (
        <span className="trouble">
          Tried {w.tries} times, and it does not go out ({w.because?.replace(/\.$/, "")}). It is tried again every few
          minutes.
        </span>
      );
    if (trouble === "away") return "Waiting for the server. Tried again every few seconds.";
    return "On its way.";
  };
  return (
    <main id="main" className="page">
      <h1>Waiting on this device</h1>
      {waiting.length === 0 ? (
        <p className="dim">Nothing is waiting: everything entered here has reached the server.</p>
      ) : (
        <p className="dim">
          These survive a reload or a lost connection and are sent as soon as the server can be reached.
        </p>
      )}
      <ul className={classes.list}>
        {waiting.map((w) => (
          <li key={w.key}>
            <div>
              <b>{kinds[w.post.to]}:</b> {w.says}
              <small className="dim">
                {when(w.at)} · <Link to={w.page}>where it was entered</Link>
              </small>
              <small role="status">{why(w)}</small>
            </div>
            {w.person === 0 && me && (
              <Button variant="default" size="compact-md" onClick={() => void claim(w)}>
                Send as mine
              </Button>
            )}
            {(w.refused || (w.person === me?.id && (w.tries ?? 0) >= toldAfter)) && (
              <Button variant="default" size="compact-md" onClick={() => void retry(w)}>
                Try again
              </Button>
            )}
            {(w.person === 0 || w.person === me?.id) && (
              <Button variant="default" size="compact-md" onClick={() => setDropping(w)}>
                Discard
              </Button>
            )}
          </li>
        ))}
      </ul>
      {dropping && (
        <Modal opened onClose={() => setDropping(undefined)} title="Discard it?">
          <div className="stack">
            <p>
              {kinds[dropping.post.to]}: {dropping.says}. The server doesn't have it, and this device won't either.
            </p>
            <div className="row">
              <Button
                color="red"
                onClick={() => {
                  void takeBack(dropping.key);
                  setDropping(undefined);
                }}
              >
                Discard
              </Button>
              <Button variant="default" data-autofocus onClick={() => setDropping(undefined)}>
                Keep it
              </Button>
            </div>
          </div>
        </Modal>
      )}
    </main>
  );
}
