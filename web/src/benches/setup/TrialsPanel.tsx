import { Button, Checkbox, NativeSelect, Textarea } from "@mantine/core";
import { IconArrowRight, IconPlus } from "@tabler/icons-react";
import { useState } from "react";
import type { SetupMade, SetupVerdict } from "../../api/client";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { when } from "../../format/numbers";
import { AnswerPlate, Cautions } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { AxleBox } from "./AxleBox";
import { Checks } from "./Checks";
import { Housing } from "./Housing";
import { axleOf, type Form, noTrial, piecesText, type Trial, useSetUp } from "./model";
import { RingPlaces } from "./RingPlaces";
import classes from "./setup.module.css";
import { Tooth } from "./Tooth";

type Props = {
  form: Form;
  set: (v: Partial<Form>) => void;
  unit?: number;
  part?: string;
  from?: { by: string; at: string };
  /** What somebody else kept meanwhile, with more trials. */
  newer?: { by: string; trials: number; take: () => void };
  anew: () => void;
};

/** The trials, each as it was together, and what to move next. */
export function TrialsPanel({ form, set, unit, part, from, newer, anew }: Props) {
  const [chosen, setChosen] = useState<number>();
  const at = chosen !== undefined && chosen < form.trials.length ? chosen : form.trials.length - 1;
  const trial = form.trials[at] ?? noTrial;
  const missing = [
    (!form.ring.trim() || !form.pinion.trim()) && "teeth of ring and pinion",
    !form.ring_side && "which side the ring gear sits on",
    !form.pinion_thicker && "which way a thicker depth shim moves the pinion",
    (!trial.pinion.trim() || !trial.left.trim() || !trial.right.trim()) && "the shims installed: pinion, left, right",
  ];
  const axle = axleOf(form, part);
  const { answer, last, refused, error } = useSetUp(
    axle,
    missing.every((m) => !m),
  );
  const v = answer?.axle;
  const put = (change: Partial<Trial>) =>
    set({ trials: form.trials.map((t, i) => (i === at ? { ...t, ...change } : t)) });
  const t = bind<Trial, SetupMade>(trial, put, refused, { at: `/axle/trials/${at}` });
  const again = () => {
    const next = v?.next;
    const to = (place: string, was: string) => {
      const c = next?.changes.find((x) => x.place === place);
      return c ? piecesText(c.pieces_mm, c.to_mm) : was;
    };
    const before = form.trials[form.trials.length - 1] ?? noTrial;
    set({
      trials: [
        ...form.trials,
        {
          ...noTrial,
          pinion: to("pinion", before.pinion),
          left: to("left", before.left),
          right: to("right", before.right),
          spacer: before.spacer,
        },
      ],
    });
    setChosen(undefined);
  };
  const result = (v ?? last?.axle)?.results[at];
  return (
    <div className={classes.split}>
      <section className={classes.ask} aria-label="Trials">
        {from && (
          <p className={classes.from}>
            As {from.by} left it, {when(from.at)}.{" "}
            <button type="button" className="linklike" onClick={anew}>
              Start over
            </button>
          </p>
        )}
        {newer && (
          <p className={classes.from}>
            {newer.by} saved trial {newer.trials} after you opened this.{" "}
            <button type="button" className="linklike" onClick={newer.take}>
              Go on from there
            </button>
          </p>
        )}
        <AxleBox form={form} set={set} refused={refused} verdict={v ?? last?.axle} />
        <div className={classes.tabs}>
          <div role="tablist" aria-label="Trials">
            {form.trials.map((_, i) => (
              <button
                // biome-ignore lint/suspicious/noArrayIndexKey: trials are known by their order
                key={i}
                type="button"
                role="tab"
                aria-selected={i === at}
                onClick={() => setChosen(i)}
              >
                {i + 1}
              </button>
            ))}
          </div>
          <Button
            size="compact-md"
            variant="default"
            leftSection={<IconPlus size={15} />}
            disabled={form.trials.length >= 40}
            onClick={again}
          >
            {v?.next && v.next.changes.length > 0 ? "Another trial, as proposed" : "Another trial"}
          </Button>
        </div>
        <div className={classes.three}>
          {t.text("Depth shims", "pinion", { placeholder: "0.80 + 0.40" })}
          {t.text("Left shims", "left", { placeholder: "1.10" })}
          {t.text("Right shims", "right", { placeholder: "1.05" })}
        </div>
        <div className={classes.two}>
          <div className={classes.dialFields}>
            {t.text("Backlash around the ring", "backlash", {
              placeholder: "0.24 0.25 0.27 0.26",
              description: "from the mark, - where none was taken",
            })}
            {t.text("Back face, same places", "back_face", { placeholder: "if the ring gear runs out" })}
          </div>
          {result?.backlash ? <RingPlaces around={result.backlash} /> : <span />}
        </div>
        {result && result.told.length > 0 && (
          <ul className={classes.told}>
            {result.told.map((t) => (
              <li key={t}>{t}</li>
            ))}
          </ul>
        )}
        <div className={classes.teeth}>
          <Tooth name="Drive side" toeLeft spot={trial.drive} onSpot={(drive) => put({ drive })} />
          <Tooth name="Coast side" toeLeft={false} spot={trial.coast} onSpot={(coast) => put({ coast })} />
        </div>
        <div className={classes.three}>
          {t.text("Pinion turns with", "pinion_torque", { placeholder: "24 N at 75 mm" })}
          {t.text("Carrier in", "total_torque", { placeholder: "3.1 N·m" })}
          {form.spacing === "crush" ? <span /> : t.text("Preload shims", "spacer", { placeholder: "2.50" })}
        </div>
        <div className={classes.three}>
          {t.text("Depth by gauge", "depth", { placeholder: "109.16" })}
          <NativeSelect
            label="The pattern is"
            value={trial.mark}
            onChange={(e) => put({ mark: e.currentTarget.value })}
            data={[
              { value: "whole", label: "one clean spot" },
              { value: "two_spots", label: "in two spots" },
              { value: "varies", label: "another around the ring" },
              { value: "edge_line", label: "a hard line at an edge" },
            ]}
          />
          {(trial.sure || v?.doubted === at + 1) && (
            <Checkbox
              label="Checked again: it is as typed"
              checked={trial.sure}
              onChange={(e) => put({ sure: e.currentTarget.checked })}
              mt="lg"
            />
          )}
        </div>
        <Textarea
          label="Shims on the shelf"
          description="0.05 x4, 0.10 x6, .004in x2; shims in the axle count too"
          autosize
          minRows={1}
          value={form.box}
          onChange={(e) => set({ box: e.currentTarget.value })}
          error={refused?.within("/axle/box") ?? refused?.field("/box")}
        />
      </section>
      <section aria-label="Next move" aria-live="polite">
        {!v && <Waiting title="What to move, and how far" missing={missing} error={error} />}
        {v && (
          <>
            <Plate verdict={v} />
            <Housing verdict={v} ringSide={form.ring_side} inches={form.unit === "in"} />
            <div className={classes.teeth}>
              <Expected verdict={v} name="Drive side, then" trial={form.trials[form.trials.length - 1]} flank="drive" />
              <Checks verdict={v} />
            </div>
            <div className="row wrap no-print">
              <KeepWithUnit
                unit={unit}
                record={{ kind: "setup", setup: { axle } }}
                loose="Saved on this device. With a unit, others see it too."
              >{`Save trial ${form.trials.length} with the unit`}</KeepWithUnit>
              {v.next && v.next.changes.length > 0 && (
                <Button variant="default" rightSection={<IconArrowRight size={16} />} onClick={again}>
                  Assembled as proposed
                </Button>
              )}
            </div>
            <details>
              <summary>Where the numbers come from</summary>
              <ul className={classes.laws}>
                {v.laws.map((l) => (
                  <li key={l.name}>
                    <b>{l.name}:</b> {l.text}
                  </li>
                ))}
                {v.figures.map((f) => (
                  <li key={f.figure}>
                    <b>{f.name}:</b> {f.low > 0 && f.low !== f.high ? `${f.low} to ` : ""}
                    {f.high} {f.unit} ({f.from})
                  </li>
                ))}
              </ul>
            </details>
            <Cautions list={v.cautions} />
          </>
        )}
      </section>
    </div>
  );
}

const states: Record<string, string> = {
  ask: "? Check first",
  cure: "△ Shims won't fix this",
  move: "→ Next move",
  good: "✓ Good",
};

function Plate({ verdict: v }: { verdict: SetupVerdict }) {
  return (
    <AnswerPlate className={classes.plate}>
      <div>
        <p className="decide-kicker">
          {states[v.state]}, after {v.results.length === 1 ? "1 trial" : `${v.results.length} trials`}
        </p>
        <h2>{v.state === "move" && v.next && v.next.changes.length > 0 ? v.next.head : v.sentence}</h2>
        {v.state === "move" && v.next && v.next.changes.length > 0 && (
          <>
            {v.next.preload.map((p) => (
              <p key={p}>{p}</p>
            ))}
            <p>{v.next.text.slice(v.next.head.length + 1)}</p>
          </>
        )}
        {v.more.map((m) => (
          <p key={m} className="decide-sure">
            {m}
          </p>
        ))}
        {v.asks.map((a) => (
          <p key={a} className="decide-sure">
            <b>?</b> {a}
          </p>
        ))}
      </div>
    </AnswerPlate>
  );
}

function Expected({
  verdict: v,
  name,
  trial,
  flank,
}: {
  verdict: SetupVerdict;
  name: string;
  trial?: Trial;
  flank: "drive" | "coast";
}) {
  const next = v.next;
  const spot = trial?.[flank];
  const now = v.results[v.results.length - 1];
  if (!spot)
    return <p className="dim">No pattern taken yet: paint a few teeth, turn it against a brake, place the spot.</p>;
  // Both flanks move by what the mean does.
  const then =
    next?.height &&
    next.length &&
    now?.height !== undefined &&
    now.length !== undefined &&
    (next.pinion_mm !== 0 || next.ring_mm !== 0)
      ? {
          height: spot.height + next.height.value - now.height,
          length: spot.length + next.length.value - now.length,
          spread: next.height.spread,
        }
      : undefined;
  return (
    <div>
      <Tooth name={then ? name : "Drive side"} toeLeft={flank === "drive"} spot={spot} then={then} />
      {then && next?.backlash_mm && <small className="dim">dashed: expected after the move</small>}
    </div>
  );
}
