import { useHotkeys } from "@mantine/hooks";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useCallback, useMemo, useState } from "react";
import {
  api,
  type Method,
  type Option,
  type Plan,
  type Question,
  Refused,
  type Situation,
  take,
} from "../../api/client";
import { key } from "../../api/keys";
import { keep, useKept } from "../../app/local";
import { useUnits } from "../../app/units";
import { memberWords } from "../../format/words";
import { Counter, type Counting } from "./Counter";
import { Explain } from "./Explain";
import { HowTo } from "./HowTo";
import { MethodCard } from "./MethodCard";
import { methods, methodsFor } from "./methods";
import { blankDraft, type Draft } from "./methods/draft";
import { type BenchReading, newKey } from "./model";
import { ReadingsList } from "./ReadingsList";
import { useWeighing } from "./useWeighing";
import { type Money, readMoney, VerdictPanel } from "./VerdictPanel";
import "./identify.css";

const nothing: Situation = {};
const noMoney: Money = { price: "", wrong: "", labor: "" };
const noMethod = "" as Method | "";

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

/** The members that are counted at a stage, with those of every construction it may have; and what can be the case there. */
function useKnown(q: Question) {
  const knowledge = useQuery({
    queryKey: key.knowledge(),
    queryFn: () => take(api.GET("/calc/knowledge")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return useMemo(() => {
    const stage = knowledge.data?.stages.find((s) => s.kind === q.kind);
    const cons = stage?.constructions ?? [];
    const position = q.kind === "gearbox" ? cons[0]?.position : (q.position ?? "");
    const here = cons.filter((c) => c.position === position);
    const members = [...new Set(here.flatMap((c) => c.teeth.map((t) => t.member)))];
    return {
      members: here.some((c) => c.id.includes("planetary")) ? [...members, "planet", "planets"] : members,
      situations: stage?.situations ?? [],
    };
  }, [knowledge.data, q]);
}

/** The identify bench: what was done at the left, what it means at the right. */
export function Bench({
  store,
  question,
  readings,
  onKeep,
  onStrike,
  mayWrite,
  maySave,
  actions,
  where,
  evidence,
}: Props) {
  const [units] = useUnits();
  const [method, setMethod] = useKept(`${store}.method`, noMethod);
  const [draft, setDraft] = useKept<Draft>(`${store}.draft`, blankDraft);
  const [counting, setCounting] = useKept<Counting | null>(`${store}.counting`, null);
  const [situation, setSituation] = useKept<Situation>(`${store}.situation`, nothing);
  const [goal, setGoal] = useKept<Plan["goal"]>(`${store}.goal`, "label");
  const [money, setMoney] = useKept<Money>(`${store}.money`, noMoney);
  const [blindWanted, setBlind] = useKept("zorvel.blind", true);
  const [explain, setExplain] = useState(false);
  const [all, setAll] = useState(false);
  const [tried, setTried] = useState(false);
  const { members, situations } = useKnown(question);

  const order = readMoney(money, goal);
  const { standing, blind, drafted, notNumbers, missing, base, refused, verdict, summary, findings, names } =
    useWeighing({
      question,
      readings,
      situation,
      order,
      all,
      method,
      draft,
      members,
      units,
      blindWanted,
    });

  const fitting = methodsFor(question.kind);
  const open = useCallback(
    (m: Method, prepare?: Partial<Draft>) => {
      if (!mayWrite) return;
      if (prepare) setDraft((d) => ({ ...d, ...prepare }));
      setTried(false);
      setMethod(m);
    },
    [mayWrite, setDraft, setMethod],
  );
  const openOption = (o: Option) => {
    const how = o.by === "arc" ? ("arc" as const) : ("eye" as const);
    const n = String(o.output_turns ?? 1);
    open(o.method, { wheelTurns: n, output: n, shaft: { ...draft.shaft, how } });
  };
  const next = base.last?.next.find((n) => n.goal === goal)?.options[0];
  useHotkeys([
    ...fitting.map((m, i): [string, () => void] => [String(i + 1), () => open(m)]),
    ["n", () => next && openOption(next)],
    ["b", () => setBlind(!blindWanted)],
    ["e", () => setExplain((x) => !x)],
  ]);
  // Esc puts the card aside from within its fields too; what was typed is kept.
  useHotkeys([["Escape", () => !explain && !counting && setMethod("")]], []);

  const done = () => {
    if (!drafted || !method || refused) {
      setTried(true);
      return;
    }
    setTried(false);
    onKeep({
      key: newKey(),
      reading: drafted,
      summary,
      at: new Date().toISOString(),
      note: draft.note.trim() || undefined,
      blind: blind || undefined,
    });
    // The rim stays: it is the same flange next time.
    setDraft({ ...blankDraft, shaft: { ...blankDraft.shaft, rim: draft.shaft.rim, rimIs: draft.shaft.rimIs } });
    setMethod("");
  };
  const half = (field: string) =>
    draft.wheels === "each" && field.startsWith("turns/") && (draft.left || draft.right || draft.shaft.whole);
  const error = (field: string) => {
    const at = field.replace(/^\//, "");
    return notNumbers[at] ?? (tried || half(at) ? missing[at] : undefined) ?? refused?.at(field);
  };

  const startCount = (target: string) => {
    const member = target.startsWith("teeth/") ? target.slice(6) : "";
    setCounting({
      target,
      what: member ? "teeth" : "turns",
      name: member ? (memberWords[member] ?? member) : ((method && methods[method].counts) ?? "Turns"),
      n: 0,
    });
  };
  const finishCount = (n: number) => {
    if (!counting) return;
    const value = String(n);
    if (counting.target === "shaft")
      setDraft((d) => ({
        ...d,
        shaft: { ...d.shaft, whole: value, how: d.shaft.how === "words" ? "eye" : d.shaft.how },
      }));
    else setDraft((d) => ({ ...d, teeth: { ...d.teeth, [counting.target.slice(6)]: value } }));
    setCounting(null);
  };

  return (
    <main id="main" className={method && mayWrite ? "bench taking" : "bench"}>
      <section className="did" aria-label="Readings">
        {method && mayWrite ? (
          <MethodCard
            key={method}
            method={method}
            question={question}
            draft={draft}
            onDraft={setDraft}
            members={members}
            units={units}
            blind={blind}
            onBlind={setBlind}
            others={standing.length}
            error={error}
            summary={summary}
            wrong={refused !== undefined || Object.keys(notNumbers).length > 0}
            onCount={startCount}
            onKeep={done}
            onCancel={() => setMethod("")}
          />
        ) : (
          <>
            <div className="row spread">
              <h2>Readings</h2>
              {actions}
            </div>
            {mayWrite && (
              <div className="methods">
                {fitting.map((m, i) => (
                  <button type="button" key={m} onClick={() => open(m)}>
                    <kbd>{i + 1}</kbd> {methods[m].name}
                  </button>
                ))}
              </div>
            )}
            <ReadingsList
              readings={readings}
              findings={findings}
              maySave={maySave}
              onStrike={onStrike}
              evidence={evidence}
              onExplain={() => setExplain(true)}
              onAgain={
                mayWrite
                  ? (r) => {
                      setBlind(true);
                      open(r.reading.method);
                    }
                  : undefined
              }
            />
          </>
        )}
      </section>
      <VerdictPanel
        verdict={verdict}
        error={base.error ? base.error.message : undefined}
        broken={base.error instanceof Refused && base.error.status === 422 && readings.length > 0}
        names={names}
        hidden={blind}
        goal={goal}
        onGoal={setGoal}
        situations={situations}
        situation={situation}
        onSituation={setSituation}
        money={money}
        onMoney={setMoney}
        onOption={openOption}
        onExplain={() => setExplain(true)}
        below={
          standing.length === 0 &&
          next &&
          (method ? where : <HowTo method={next.method} kind={question.kind} where={where} />)
        }
      />
      <Explain
        verdict={blind ? undefined : verdict}
        opened={explain && !blind}
        onClose={() => setExplain(false)}
        all={all}
        onAll={() => setAll(true)}
      />
      {counting && (
        <Counter
          counting={counting}
          onCount={(next) => setCounting((c) => (c ? { ...c, n: next(c.n) } : c))}
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

/** Forgets a bench's unsent input. */
export function clearBench(store: string) {
  for (const part of ["method", "draft", "counting", "situation", "goal", "money", "readings"])
    keep(`${store}.${part}`, undefined);
}
