import { Button } from "@mantine/core";
import { IconPlus } from "@tabler/icons-react";
import { useState } from "react";
import { Waiting } from "../../app/Waiting";
import { when } from "../../format/numbers";
import { AxleBox } from "./AxleBox";
import { FirstFields } from "./FirstFields";
import { axleOf, type Form, noTrial, piecesText, type Trial, useSetUp } from "./model";
import { NextMove } from "./NextMove";
import classes from "./setup.module.css";
import { TrialFields } from "./TrialFields";

type Props = {
  form: Form;
  set: (v: Partial<Form>) => void;
  unit?: number;
  part?: string;
  from?: { by: string; at: string };
  /** What somebody else saved meanwhile, with more trials. */
  newer?: { by: string; trials: number; take: () => void };
  anew: () => void;
};

/** What the set-up still needs before it can be answered. */
const missingOf = (form: Form, trial: Trial) => {
  const shims = [trial.pinion, trial.left, trial.right].filter((s) => s.trim()).length;
  const stacks = shims > 0 || form.trials.length > 1;
  return [
    (!form.ring.trim() || !form.pinion.trim()) && "teeth of ring and pinion",
    !stacks && !trial.backlash.trim() && !trial.drive && !trial.coast && "the backlash, or the pattern",
    stacks && shims < 3 && "the shims installed: depth, left, right",
    stacks && !form.ring_side && "which side the ring gear sits on",
    stacks && !form.pinion_thicker && "which way a thicker depth shim moves the pinion",
  ];
};

/** The trials, each as it was assembled, and what to move next. */
export function TrialsPanel({ form, set, unit, part, from, newer, anew }: Props) {
  const [chosen, setChosen] = useState<number>();
  const at = chosen !== undefined && chosen < form.trials.length ? chosen : form.trials.length - 1;
  const trial = form.trials[at] ?? noTrial;
  const missing = missingOf(form, trial);
  const axle = axleOf(form, part);
  const { answer, last, refused, error } = useSetUp(
    axle,
    missing.every((m) => !m),
  );
  const v = answer?.axle;
  const put = (change: Partial<Trial>) =>
    set({ trials: form.trials.map((t, i) => (i === at ? { ...t, ...change } : t)) });
  const again = () => {
    const before = form.trials[form.trials.length - 1] ?? noTrial;
    const to = (place: string, was: string) => {
      const c = v?.next?.changes.find((x) => x.place === place);
      return c ? piecesText(c.pieces_mm, c.to_mm) : was;
    };
    const stacks = {
      pinion: to("pinion", before.pinion),
      left: to("left", before.left),
      right: to("right", before.right),
    };
    set({ trials: [...form.trials, { ...noTrial, ...stacks, spacer: before.spacer }] });
    setChosen(undefined);
  };
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
        <FirstFields form={form} set={set} refused={refused} verdict={v ?? last?.axle} />
        <TrialTabs
          count={form.trials.length}
          at={at}
          onTrial={setChosen}
          proposed={Boolean(v?.next && v.next.changes.length > 0)}
          again={again}
        />
        <TrialFields
          form={form}
          set={set}
          at={at}
          trial={trial}
          put={put}
          refused={refused}
          result={(v ?? last?.axle)?.results[at]}
          doubted={v?.doubted === at + 1}
        />
        <AxleBox form={form} set={set} refused={refused} verdict={v ?? last?.axle} />
      </section>
      <section aria-label="Next move" aria-live="polite">
        {v ? (
          <NextMove verdict={v} form={form} axle={axle} unit={unit} again={again} />
        ) : (
          <Waiting title="What to move, and how far" missing={missing} error={error} />
        )}
      </section>
    </div>
  );
}

type TabsProps = { count: number; at: number; onTrial: (i: number) => void; proposed: boolean; again: () => void };

function TrialTabs({ count, at, onTrial, proposed, again }: TabsProps) {
  return (
    <div className={classes.tabs}>
      <div role="tablist" aria-label="Trials">
        {Array.from({ length: count }, (_, i) => (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: trials are known by their order
            key={i}
            type="button"
            role="tab"
            aria-label={`Trial ${i + 1}`}
            aria-selected={i === at}
            onClick={() => onTrial(i)}
          >
            {count === 1 ? "Trial 1" : i + 1}
          </button>
        ))}
      </div>
      <Button
        size="compact-md"
        variant="default"
        leftSection={<IconPlus size={15} />}
        disabled={count >= 40}
        onClick={again}
      >
        {proposed ? "Another trial, as proposed" : "Another trial"}
      </Button>
    </div>
  );
}
