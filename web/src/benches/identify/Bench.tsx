import { useHotkeys } from "@mantine/hooks";
import clsx from "clsx";
import { type ReactNode, useState } from "react";
import { type Question, Refused } from "../../api/client";
import { keep } from "../../app/local";
import { Counter } from "./Counter";
import { Explain } from "./Explain";
import { HowTo } from "./HowTo";
import classes from "./identify.module.css";
import { MethodCard } from "./MethodCard";
import { methods } from "./methods";
import type { BenchReading } from "./model";
import { ReadingsList } from "./ReadingsList";
import { type BenchAtWork, useBench } from "./useBench";
import { VerdictPanel } from "./VerdictPanel";

type Props = {
  /** Names this bench's unsent input on this device. */
  store: string;
  question: Question;
  readings: BenchReading[];
  onKeep: (r: BenchReading) => void;
  onStrike: (r: BenchReading, reason: string) => void;
  mayWrite: boolean;
  /** Where on the unit's machine to mark and turn, for a bench without readings. */
  where?: ReactNode;
  maySave: boolean;
  actions?: ReactNode;
  /** What stands beside a reading as its evidence. */
  evidence?: (r: BenchReading) => ReactNode;
};

/** The identify bench: what was done at the left, what it means at the right. */
export function Bench(p: Props) {
  const { store, question, readings, onKeep, mayWrite, where } = p;
  const work = useBench({ store, question, readings, mayWrite, onKeep });
  const { method, blind, verdict, base, next, counting, setCounting, finishCount } = work;
  const [explain, setExplain] = useState(false);
  useHotkeys([
    ...work.fitting.map((m, i): [string, () => void] => [String(i + 1), () => work.open(m)]),
    ["n", () => next && work.openOption(next)],
    ["b", () => work.setBlind(!work.blindWanted)],
    ["e", () => setExplain((x) => !x)],
  ]);
  // Esc puts the card aside from within its fields too; what was typed is kept.
  useHotkeys([["Escape", () => !explain && !counting && work.close()]], []);
  return (
    <main id="main" className={clsx(classes.bench, method && mayWrite && classes.taking)}>
      <section className={classes.did} aria-label="Readings">
        {method && mayWrite ? (
          <Card work={work} question={question} />
        ) : (
          <Kept {...p} work={work} onExplain={() => setExplain(true)} />
        )}
      </section>
      <VerdictPanel
        verdict={verdict}
        error={base.error ? base.error.message : undefined}
        broken={base.error instanceof Refused && base.error.status === 422 && readings.length > 0}
        names={work.names}
        hidden={blind}
        goal={work.goal}
        onGoal={work.setGoal}
        situations={work.situations}
        situation={work.situation}
        onSituation={work.setSituation}
        money={work.money}
        onMoney={work.setMoney}
        onOption={work.openOption}
        onExplain={() => setExplain(true)}
        below={
          work.standing.length === 0 &&
          next &&
          (method ? where : <HowTo method={next.method} kind={question.kind} where={where} />)
        }
      />
      <Explain
        verdict={blind ? undefined : verdict}
        opened={explain && !blind}
        onClose={() => setExplain(false)}
        all={work.all}
        onAll={work.showAll}
      />
      {counting && (
        <Counter
          counting={counting}
          onCount={(step) => setCounting((c) => (c ? { ...c, n: step(c.n) } : c))}
          onDone={finishCount}
          onClose={() => {
            // Put aside: the number so far stands in its field.
            if (counting.n > 0) finishCount(counting.n);
            else setCounting(null);
          }}
        />
      )}
    </main>
  );
}

/** The reading that is being taken. */
function Card({ work, question }: { work: BenchAtWork; question: Question }) {
  if (!work.method) return null;
  return (
    <MethodCard
      key={work.method}
      method={work.method}
      question={question}
      draft={work.draft}
      onDraft={work.setDraft}
      members={work.members}
      units={work.units}
      blind={work.blind}
      verdict={work.blind ? undefined : work.verdict}
      onBlind={work.setBlind}
      others={work.standing.length}
      error={work.error}
      summary={work.summary}
      wrong={work.refused !== undefined || Object.keys(work.notNumbers).length > 0}
      onCount={work.startCount}
      onMethod={work.open}
      onKeep={work.done}
      onCancel={work.close}
    />
  );
}

/** The readings there are, and the ways to one more. */
function Kept({ work, onExplain, ...p }: Props & { work: BenchAtWork; onExplain: () => void }) {
  return (
    <>
      <div className="row spread">
        <h2>Readings</h2>
        {p.actions}
      </div>
      {p.mayWrite && (
        <div className={classes.methods}>
          {work.fitting.map((m, i) => (
            <button type="button" key={m} onClick={() => work.open(m)}>
              <kbd>{i + 1}</kbd> {methods[m].name}
            </button>
          ))}
        </div>
      )}
      <ReadingsList
        readings={p.readings}
        findings={work.findings}
        maySave={p.maySave}
        onStrike={p.onStrike}
        evidence={p.evidence}
        onExplain={onExplain}
        onAgain={
          p.mayWrite
            ? (r) => {
                work.setBlind(true);
                work.open(r.reading.method);
              }
            : undefined
        }
      />
    </>
  );
}

/** Forgets a bench's unsent input. */
export function clearBench(store: string) {
  for (const part of ["method", "draft", "counting", "situation", "goal", "money", "readings"])
    keep(`${store}.${part}`, undefined);
}
