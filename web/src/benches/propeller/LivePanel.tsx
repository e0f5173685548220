import { Button } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { api, type Instruments, type PropAnswer, type PropRequest, take } from "../../api/client";
import { key } from "../../api/keys";
import { fixed } from "../../format/numbers";
import classes from "./propeller.module.css";

type Props = {
  q: PropRequest;
  answer?: PropAnswer;
  onTake: (s: NonNullable<Instruments["steady"]>) => void;
};

/** The instruments as they speak: rpm, speed and slip moving, and the steady run to take. */
export function LivePanel({ q, answer, onTake }: Props) {
  const live = useQuery({
    queryKey: key.instruments(),
    queryFn: () => take(api.GET("/instruments")),
    refetchInterval: 1000,
    retry: false,
  });
  // The slip of this moment, worked out by the server like any other.
  const now = live.data?.now;
  const moment = useQuery({
    queryKey: key.propeller(q.ratio, q.pitch_in, now?.at),
    queryFn: () =>
      take(
        api.POST("/calc/propeller", {
          body: { ratio: q.ratio, pitch_in: q.pitch_in, hull: q.hull, rpm: now?.rpm, speed_kn: now?.speed_kn },
        }),
      ),
    enabled: Boolean(answer && now?.has_rpm && now.has_speed && now.rpm >= 100),
    retry: false,
    gcTime: 5_000,
    placeholderData: (old) => old,
  });
  const d = live.data;
  if (live.error) return <p className="trouble">{live.error.message}</p>;
  if (!d) return null;
  if (!d.configured)
    return (
      <p className="dim">
        No instruments are set up: start the server with <code>--instruments host:port</code>.
      </p>
    );
  const slip = moment.data?.slip_percent;
  const steady = d.steady;
  return (
    <section className={classes.live} aria-label="Instruments">
      <p className={d.connected && !d.trouble ? classes.up : classes.down} role="status">
        {d.connected && !d.trouble
          ? `● instruments at ${d.address}`
          : `✕ instruments: ${d.trouble ?? "not connected"}; looking for them again`}
        {d.count && (
          <small>
            {" "}
            {d.count.read} sentences used, {d.count.broken} broken, {d.count.other} of others
          </small>
        )}
      </p>
      <div className={classes.dials}>
        <p>
          <b>{now?.has_rpm ? fixed(now.rpm, 0) : "–"}</b> rpm
        </p>
        <p>
          <b>{now?.has_speed ? fixed(now.speed_kn, 1) : "–"}</b> kn
        </p>
        <p>
          <b>{slip !== undefined ? fixed(slip, 1) : "–"}</b> % slip
        </p>
        <Moving samples={d.samples} />
      </div>
      <div className="row">
        <Button size="compact-sm" disabled={!steady} onClick={() => steady && onTake(steady)}>
          Use this steady run
        </Button>
        <span className="dim">
          {steady
            ? `${fixed(steady.rpm, 0)} ± ${fixed(2 * steady.rpm_sure, 0)} rpm at ${fixed(steady.speed_kn, 2)} ± ${fixed(2 * steady.speed_sure_kn, 2)} kn, held for ${fixed(steady.seconds, 0)} s`
            : "Hold one throttle for eight seconds or more."}
        </span>
      </div>
    </section>
  );
}

/** The last two minutes: rpm solid, speed dashed, each over its own height. */
function Moving({ samples }: { samples: Instruments["samples"] }) {
  const last = samples.at(-1);
  if (!last) return null;
  const [w, h] = [420, 84];
  const top = (f: (s: (typeof samples)[number]) => number) => Math.max(1, ...samples.map(f)) * 1.1;
  const line = (f: (s: (typeof samples)[number]) => number) => {
    const t = top(f);
    return samples
      .map(
        (s, i) => `${i ? "L" : "M"}${(w - (last.at - s.at) * (w / 120)).toFixed(1)} ${(h - (f(s) / t) * h).toFixed(1)}`,
      )
      .join("");
  };
  return (
    <svg
      viewBox={`0 0 ${w} ${h}`}
      className={classes.moving}
      preserveAspectRatio="none"
      role="img"
      aria-label="rpm and speed over two minutes"
    >
      <path d={line((s) => s.rpm)} className={classes.rpm} />
      <path d={line((s) => s.speed_kn)} className={classes.kn} />
    </svg>
  );
}
