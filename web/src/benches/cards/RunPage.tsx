import { Loader } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { blocking } from "../../api/blocking";
import { reason, type WorkStep } from "../../api/client";
import { Band } from "../../app/Band";
import { useKept } from "../../app/local";
import { useMaySave } from "../../app/session";
import { useTitle } from "../../app/title";
import { minutes } from "../../format/numbers";
import { SignInFirst } from "../../people/SignInFirst";
import { Evidence } from "../marks/Evidence";
import { CardEnd } from "./CardEnd";
import { CardSide } from "./CardSide";
import classes from "./cards.module.css";
import { type Check, DoneStep, type Note, OpenStep, SecondLook, StepFacts } from "./ThisStep";
import { entryKey, useRun } from "./useRun";

type Written = Record<string, Note>;
const nothing: Written = {};

/** A card that is being done: the step that is next, large; what is done, the gate, and the way back beside it. */
export function RunPage() {
  const id = Number(useParams().id);
  const { run, enter, close, waiting } = useRun(id);
  const r = run.data;
  useTitle(r?.title ?? "Work card", r?.unit_name);
  const maySave = useMaySave();
  // What is written and not yet sent survives a reload.
  const [written, write] = useKept<Written>(`zorvel.card.${id}`, nothing);
  const [looked, look] = useState<string>();
  const s = r?.sheet;
  const now = s?.steps.find((x) => x.id === (looked ?? s.next)) ?? s?.steps[s.steps.length - 1];
  const check = (step: WorkStep, kind: Check) => {
    enter.mutate(
      {
        key: entryKey(),
        kind,
        step: step.id,
        figure: kind === "check" ? written[step.id]?.figure?.trim() || undefined : undefined,
        note: kind === "check" ? written[step.id]?.note?.trim() || undefined : undefined,
      },
      { onSuccess: () => look(undefined) },
    );
  };
  const open = Boolean(r && !r.closed_at && maySave);
  useHotkeys([
    [
      "Enter",
      (e) => {
        // Enter on a button or link is that button's own.
        if (e.target instanceof Element && e.target.closest("button, a, summary")) return;
        if (open && now?.state === "open") check(now, "check");
      },
    ],
  ]);
  const stop = blocking(run);
  if (stop) return <SignInFirst error={stop} />;
  if (!r || !s || !now) return <Loader m="xl" />;
  return (
    <>
      <Band className="no-print">
        <h1>
          <Link to={`/units/${r.unit_id}`}>{r.unit_name}</Link>
          <span> · {r.title}</span>
        </h1>
        <p>
          {s.done} of {s.of} steps{s.minutes > 0 && `, about ${minutes(s.minutes)} left`}
        </p>
      </Band>
      <main id="main" className={classes.run}>
        <StepList steps={s.steps} now={now} onLook={look} />
        <section className={classes.now} aria-label="This step" aria-live="polite">
          <p className={classes.kicker}>
            Step {s.steps.indexOf(now) + 1} of {s.of}
            {now.minutes ? ` · ${minutes(now.minutes)}` : ""}
            {now.gate && " · a gate"}
          </p>
          <h2>{now.do}</h2>
          <StepFacts step={now} />
          {now.state === "open" && open && (
            <OpenStep
              run={r}
              step={now}
              written={written[now.id] ?? {}}
              onWrite={(v) => write({ ...written, [now.id]: { ...written[now.id], ...v } })}
              enter={enter}
              onCheck={(kind) => check(now, kind)}
            />
          )}
          {now.state === "waiting" && open && (
            <SecondLook step={now} enter={enter} onCheck={(kind) => check(now, kind)} />
          )}
          {now.state !== "open" && <DoneStep run={r} step={now} open={open} onCheck={(kind) => check(now, kind)} />}
          {waiting.length > 0 && (
            <p role="status">
              {waiting.length === 1 ? "1 check-off waits" : `${waiting.length} check-offs wait`} on this device until it
              reaches the server; then the card goes on.
            </p>
          )}
          <Evidence
            key={now.id}
            unit={r.unit_id}
            of={{ run: id, step: now.id }}
            title={`${r.title}: ${now.do}`}
            part={r.part || undefined}
            may={open}
          />
          {enter.error && <p className="trouble">{reason(enter.error).replace(/^\/[a-z]+: /, "")}</p>}
          <CardEnd run={r} open={open} close={close} />
        </section>
        <CardSide sheet={s} open={open} enter={enter} />
      </main>
    </>
  );
}

const signs: Record<string, string> = { open: "○", waiting: "◐", done: "✓" };

function StepList({ steps, now, onLook }: { steps: WorkStep[]; now: WorkStep; onLook: (id: string) => void }) {
  return (
    <ol className={classes.steps} aria-label="Steps">
      {steps.map((x, i) => (
        <li key={x.id}>
          <button
            type="button"
            aria-current={x.id === now.id ? "step" : undefined}
            className={classes[x.state]}
            onClick={() => onLook(x.id)}
          >
            <span aria-hidden>{signs[x.state]}</span> {i + 1}. {x.do}
            {x.by && (
              <small>
                {x.by}
                {x.second && `, seen by ${x.second}`}
              </small>
            )}
          </button>
        </li>
      ))}
    </ol>
  );
}
