import { Button, NumberInput, Switch } from "@mantine/core";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import { api, type LiveSetup, type LiveShaft, type LiveState, take } from "../api/client";
import { key } from "../api/keys";
import { useKept } from "../app/local";
import type { FieldsProps } from "../benches/identify/methods/method";
import { QRCode } from "../drawing/QRCode";
import { questionWords } from "../format/words";
import classes from "./live.module.css";
import { OtherWheel } from "./OtherWheel";
import { Turned } from "./Turned";
import { useFollow } from "./useFollow";
import { useTone } from "./useTone";

type Props = FieldsProps & { source: "sensors" | "phones"; atAxle: boolean };

const channels = (atAxle: boolean): LiveSetup["channels"] =>
  atAxle
    ? [
        { channel: 1, shaft: "shaft", marks: 8 },
        { channel: 2, shaft: "left", marks: 8 },
        { channel: 3, shaft: "right", marks: 8 },
      ]
    : [
        { channel: 1, shaft: "shaft", marks: 8 },
        { channel: 2, shaft: "output", marks: 8 },
      ];

/** The channels that were watched last, where they fit this part. */
const fitting = (last: LiveSetup["channels"], atAxle: boolean) =>
  last.some((c) => c.shaft === "output") === atAxle ? channels(atAxle) : last;

/** A count that sensors and phones add to: begun here, followed here, its reading handed to the bench. */
export function SessionPanel(p: Props) {
  const { draft, set, source } = p;
  const session = draft.liveSession;
  const { state, lost } = useFollow(session?.id);
  const stage = useStage();
  const [watched, setWatched] = useKept("zorvel.live.channels", channels(p.atAxle));
  const begin = useMutation({
    mutationFn: () =>
      take(
        api.POST("/live", {
          body: {
            title: questionWords(p.question),
            stage_id: stage,
            setup: {
              channels: source === "sensors" ? fitting(watched, p.atAxle) : [],
              other: p.atAxle && source === "phones" ? { does: "with", seen: false } : undefined,
            },
          },
        }),
      ),
    onSuccess: (o) => set({ live: undefined, liveSession: { id: o.state.id, secret: o.secret, source } }),
  });
  useHandOver(state, draft.live, (live) => set({ live }));
  const settled = p.verdict?.live?.advice === "settled" && !p.blind;
  const tone = useTone(settled);
  if (!session)
    return (
      <div className="stack">
        <Button size="md" onClick={() => begin.mutate()} loading={begin.isPending}>
          Start counting
        </Button>
        {begin.error && <p className="trouble">{begin.error.message}</p>}
      </div>
    );
  if (!state) return <p role="status">{lost ? "The server can't be reached. Trying again." : "Opening the count…"}</p>;
  return (
    <div className="stack">
      <Turned
        answer={state.answer}
        atAxle={p.atAxle}
        verdict={draft.live && !p.blind ? p.verdict : undefined}
        blind={p.blind}
        lost={
          lost
            ? "The server can't be reached. What is shown is from before; it goes on by itself."
            : line(state, source)
        }
      />
      <div className="row wrap">
        <Actions state={state} />
        <OneShaft {...p} state={state} />
        <Switch
          label="Tone when settled"
          checked={!tone.muted}
          onChange={(e) => tone.setMuted(!e.currentTarget.checked)}
        />
      </div>
      {source === "phones" && <Join id={session.id} secret={session.secret} state={state} />}
      <Setup state={state} atAxle={p.atAxle} source={source} onChannels={setWatched} />
    </div>
  );
}

/** What is wrong with the sensors' line. */
function line(s: LiveState, source: Props["source"]): string | undefined {
  if (source !== "sensors") return undefined;
  if (!s.sensors.configured)
    return "No shaft sensors are set up. Start the server with --sensors host:port; docs/sensors.md says what they send.";
  if (!s.sensors.connected)
    return `Shaft sensors: ${s.sensors.trouble ?? "not connected"}. Looking for them again; what they miss isn't counted.`;
  return undefined;
}

/** The ratio of a unit whose page this is, if it is one. */
function useStage(): number | undefined {
  const at = /^\/stages\/(\d+)/.exec(window.location.pathname);
  return at ? Number(at[1]) : undefined;
}

/** How often the reading goes to the bench while it changes, in ms. */
const handOverEvery = 400;

/** Hands the count's reading to the bench as it changes, not more often than it can be weighed. */
function useHandOver(
  state: LiveState | undefined,
  given: LiveState["reading"],
  give: (r: LiveState["reading"]) => void,
) {
  const latest = useRef({ state, given, give });
  latest.current = { state, given, give };
  useEffect(() => {
    const t = setInterval(() => {
      const now = latest.current;
      if (now.state && JSON.stringify(now.state.reading) !== JSON.stringify(now.given)) now.give(now.state.reading);
    }, handOverEvery);
    return () => clearInterval(t);
  }, []);
}

function Actions({ state }: { state: LiveState }) {
  const params = { params: { path: { id: state.id } } };
  const clear = useMutation({ mutationFn: () => take(api.POST("/live/{id}/clear", params)) });
  return (
    <>
      <Button variant="default" onClick={() => clear.mutate()} disabled={state.ended}>
        Start over
      </Button>
      <Button
        variant="subtle"
        component="a"
        href={`/api/v1/live/${state.id}/recording.csv`}
        download={`live-count-${state.id}.csv`}
      >
        Save as a file
      </Button>
      {state.ended && <span>This count has ended.</span>}
      {clear.error && <span className="trouble">{clear.error.message}</span>}
    </>
  );
}

/** One shaft counted alone: its turns go into a count of turns. */
function OneShaft({ state, onMethod, draft, atAxle }: Props & { state: LiveState }) {
  const [only, second] = state.answer.counts;
  if (!only || second || only.shaft !== "shaft" || Math.abs(only.turns) < 0.1) return null;
  const turns = Math.abs(only.turns);
  const whole = Math.floor(turns + 0.005);
  const fraction = Math.max(0, Math.round((turns - whole) * 100) / 100);
  const shaft = { ...draft.shaft, how: "eye" as const, whole: String(whole), fraction, short: false };
  return (
    <Button variant="default" onClick={() => onMethod(atAxle ? "turns" : "bench", { shaft })}>
      Use {turns.toFixed(2)} turns of the driveshaft
    </Button>
  );
}

/** The code that phones scan, and who has joined. */
function Join({ id, secret, state }: { id: number; secret: string; state: LiveState }) {
  const phones = useQuery({ queryKey: key.phones(), queryFn: () => take(api.GET("/phones")) });
  const base = phones.data?.addresses[0] ?? window.location.origin;
  const address = `${base}/join/${id}#${secret}`;
  return (
    <section className={classes.join} aria-label="Join with a phone">
      <QRCode text={address} name="join this count" size={190} />
      <div className="stack">
        <b>Scan this with each phone, then strap it on.</b>
        <span>
          One on a wheel and one on the driveshaft give the ratio. No account needed: the phone can only add to this
          count.
        </span>
        <span className={classes.code}>{address}</span>
        <span role="status">
          {state.phones.length === 0
            ? "No phone has joined yet."
            : `Joined: ${state.phones.map((s) => where[s]).join(", ")}.`}
        </span>
        {phones.data && !phones.data.secure && (
          <span className="dim">
            This server has no secure address. Phones then keep their motion sensors closed:{" "}
            <Link to="/phones">give the shop one</Link>.
          </span>
        )}
      </div>
    </section>
  );
}

const where: Record<LiveShaft, string> = {
  shaft: "driveshaft",
  left: "left wheel",
  right: "right wheel",
  output: "output",
};

/** What the sensors watch, and what a wheel without one does. */
type SetupProps = {
  state: LiveState;
  atAxle: boolean;
  source: Props["source"];
  onChannels: (c: LiveSetup["channels"]) => void;
};

function Setup({ state, atAxle, source, onChannels }: SetupProps) {
  const change = useMutation({
    mutationFn: (setup: LiveSetup) =>
      take(api.PUT("/live/{id}", { params: { path: { id: state.id } }, body: { version: state.version, setup } })),
    onSuccess: (s) => s.setup.channels.length > 0 && onChannels(s.setup.channels),
  });
  const setup = state.setup;
  const held = setup.held_wheels ?? [];
  const wheels = state.answer.counts.filter((c) => c.shaft === "left" || c.shaft === "right");
  return (
    <details open={state.answer.counts.length === 0 || undefined}>
      <summary>{source === "sensors" ? "Marks and wheels" : "The other wheel"}</summary>
      <div className="stack">
        {source === "sensors" && (
          <div className={classes.channels}>
            {setup.channels.map((c, i) => (
              <NumberInput
                key={c.shaft}
                label={`Marks a turn, ${where[c.shaft]}`}
                description={`channel ${c.channel}`}
                min={1}
                max={360}
                allowDecimal={false}
                value={c.marks}
                onChange={(n) =>
                  typeof n === "number" &&
                  n > 0 &&
                  change.mutate({
                    ...setup,
                    channels: setup.channels.map((x, k) => (k === i ? { ...x, marks: n } : x)),
                  })
                }
              />
            ))}
          </div>
        )}
        {atAxle && source === "phones" && wheels.length < 2 && (
          <OtherWheel
            other={setup.other ?? { does: "held", seen: false }}
            onChange={(other) => change.mutate({ ...setup, other })}
          />
        )}
        {atAxle && source === "sensors" && (
          <div className="row wrap">
            {(["left", "right"] as const).map((w) => (
              <Switch
                key={w}
                label={`The ${where[w]} is held, and somebody watches it`}
                checked={held.includes(w)}
                onChange={(e) =>
                  change.mutate({
                    ...setup,
                    held_wheels: e.currentTarget.checked ? [...held, w] : held.filter((x) => x !== w),
                  })
                }
              />
            ))}
          </div>
        )}
        {state.answer.counts.length > 0 && state.answer.counts.every((c) => !c.direction) && (
          <Switch
            label="Nobody turns back: somebody watches"
            checked={setup.one_way ?? false}
            onChange={(e) => change.mutate({ ...setup, one_way: e.currentTarget.checked })}
          />
        )}
        {change.error && <p className="trouble">{change.error.message}</p>}
      </div>
    </details>
  );
}
