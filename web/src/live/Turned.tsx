import { Alert } from "@mantine/core";
import type { LiveAnswer, LiveShaft, Verdict } from "../api/client";
import { fixed } from "../format/numbers";
import { RatioBand } from "./Band";
import classes from "./live.module.css";
import { Machine } from "./Machine";

type Props = {
  answer: LiveAnswer;
  atAxle: boolean;
  verdict?: Verdict;
  /** Counting blind: turns are shown, the ratio isn't. */
  blind?: boolean;
  /** What was told last comes no more. */
  lost?: string;
};

const names: Record<LiveShaft, string> = {
  shaft: "Driveshaft",
  left: "Left wheel",
  right: "Right wheel",
  output: "Output",
};

/** One picture of a live count: the machine, its turns, the range of the ratio and whether to turn on. */
export function Turned({ answer, atAxle, verdict, blind, lost }: Props) {
  const advice = verdict?.live;
  const settled = advice?.advice === "settled" && !blind;
  return (
    <section className={classes.turned} aria-label="Live count">
      {lost && <Alert color="orange">{lost}</Alert>}
      <div className={classes.board} data-settled={settled || undefined}>
        <Machine counts={answer.counts} atAxle={atAxle} />
        <dl className={classes.counts}>
          {order(answer, atAxle).map((c) => (
            <div key={c.shaft} data-quiet={c.last > 3 || undefined}>
              <dt>{atAxle || c.shaft !== "shaft" ? names[c.shaft] : "Input"}</dt>
              <dd>
                <b>{fixed(c.turns, c.pulses > 0 ? 2 : 3)}</b> turns
                <small>
                  {fixed(c.low, 2)} to {fixed(c.high, 2)}
                </small>
              </dd>
            </div>
          ))}
        </dl>
        {!blind && answer.ratio && <RatioBand ratio={answer.ratio} verdict={verdict} />}
        <p className={classes.advice} role="status" data-advice={blind ? undefined : advice?.advice}>
          {blind ? "Keep turning. The ratio shows when you save this count." : (advice?.sentence ?? answer.sentence)}
        </p>
      </div>
      {answer.notes.length > 0 && (
        <ul className={classes.notes}>
          {answer.notes.map((n) => (
            <li key={n}>{n}</li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** From left to right as the machine stands. */
function order(a: LiveAnswer, atAxle: boolean) {
  const at: LiveShaft[] = atAxle ? ["left", "shaft", "right"] : ["shaft", "output"];
  return at.flatMap((s) => a.counts.filter((c) => c.shaft === s));
}
