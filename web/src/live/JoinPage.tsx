import { Alert, Button } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation, useParams } from "react-router";
import { api, type LiveShaft, take } from "../api/client";
import { Band } from "../app/Band";
import { useTitle } from "../app/title";
import { fixed } from "../format/numbers";
import classes from "./live.module.css";
import { type MotionState, useMotion } from "./useMotion";

const places: { shaft: LiveShaft; name: string; how: string }[] = [
  { shaft: "left", name: "Left wheel", how: "Strap me flat on the left wheel, screen out." },
  { shaft: "right", name: "Right wheel", how: "Strap me flat on the right wheel, screen out." },
  { shaft: "shaft", name: "Driveshaft or input", how: "Strap me to the driveshaft or flange, flat, with two straps." },
  { shaft: "output", name: "Output of a removed part", how: "Strap me flat on the output flange." },
];

type Joined = { id: number; token: string; now: number; joinedAt: number; shaft: LiveShaft; title: string };

/** What a phone shows that scanned a count's code: where to strap it, and how far it has turned. */
export function JoinPage() {
  useTitle("Join a count");
  const id = Number(useParams().id);
  const secret = useLocation().hash.slice(1);
  const [joined, setJoined] = useState<Joined>();
  const motion = useMotion(joined);
  const join = useMutation({
    mutationFn: (shaft: LiveShaft) =>
      take(api.POST("/live/{id}/join", { params: { path: { id } }, body: { secret, shaft } })),
    onSuccess: (j) => setJoined({ id, ...j, joinedAt: performance.now() }),
  });
  const place = places.find((p) => p.shaft === joined?.shaft);
  return (
    <>
      <Band>
        <h1>{joined?.title ?? "Join a live count"}</h1>
      </Band>
      <main id="main" className="page">
        <div className={classes.phone}>
          {secret.length < 20 && <Alert color="red">This code is cut short. Scan the code on the tablet again.</Alert>}
          {secret.length >= 20 && !joined && (
            <Place state={motion.state} onPick={(s) => join.mutate(s)} busy={join.isPending} />
          )}
          {join.error && <Alert color="red">{join.error.message}</Alert>}
          {joined && place && (
            <Sensing how={place.how} state={motion.state} onStart={motion.start} onOther={() => setJoined(undefined)} />
          )}
        </div>
      </main>
    </>
  );
}

function Place({ state, onPick, busy }: { state: MotionState; onPick: (s: LiveShaft) => void; busy: boolean }) {
  if (state.at === "insecure") return <Insecure />;
  if (state.at === "none")
    return (
      <Alert color="orange">This browser tells pages nothing of motion. Use another browser or another phone.</Alert>
    );
  return (
    <div className={classes.choices}>
      <b>Where do you strap this phone?</b>
      {places.map((p) => (
        <Button key={p.shaft} size="lg" variant="default" onClick={() => onPick(p.shaft)} loading={busy}>
          {p.name}
        </Button>
      ))}
    </div>
  );
}

function Insecure() {
  return (
    <Alert color="orange" title="This address is not secure">
      Phones keep their motion sensors closed to pages without HTTPS. On the server, run{" "}
      <code>zorvel serve --https --addr 0.0.0.0:8080</code>, then open <Link to="/phones">On phones</Link> there and
      trust the shop once on this phone. Then scan the code again.
    </Alert>
  );
}

type SensingProps = { how: string; state: MotionState; onStart: () => void; onOther: () => void };

function Sensing({ how, state, onStart, onOther }: SensingProps) {
  if (state.at === "ready" || state.at === "asking")
    return (
      <>
        <b>{how}</b>
        <p>Make sure nothing can catch. Hold the shaft still, then press Start.</p>
        <Button size="xl" onClick={onStart} loading={state.at === "asking"}>
          Start
        </Button>
      </>
    );
  if (state.at === "sending")
    return (
      <>
        <p className={classes.big} role="status" aria-label="turns so far">
          {state.turns === undefined ? "0.00" : fixed(state.turns, 2)}
        </p>
        <p>
          turns
          {state.low !== undefined && state.high !== undefined && `, ${fixed(state.low, 2)} to ${fixed(state.high, 2)}`}
        </p>
        {state.level === false && (state.turns ?? 0) !== 0 && (
          <p>Gravity doesn't hold this angle yet: stop now and then. A shaft that points up drifts.</p>
        )}
        {state.trouble && <Alert color="orange">{state.trouble}</Alert>}
        <Button variant="subtle" onClick={onOther}>
          Strap it somewhere else
        </Button>
      </>
    );
  return (
    <>
      <Alert color="orange">{troubles[state.at] ?? (state.at === "over" ? state.why : "")}</Alert>
      {(state.at === "refused" || state.at === "silent") && (
        <Button onClick={onStart} variant="default">
          Try again
        </Button>
      )}
    </>
  );
}

const troubles: Partial<Record<MotionState["at"], string>> = {
  refused:
    "This phone refused its motion sensors. Allow motion for this page in the browser's settings, open it again, and press Start.",
  silent: "This device tells nothing of its turning: it has no gyroscope, or keeps it closed. Use another phone.",
  insecure: "This address is not secure, so the phone keeps its motion sensors closed.",
  none: "This browser tells pages nothing of motion. Use another browser or another phone.",
};
