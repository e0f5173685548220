import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { api, type Method, type Option, type Plan, type Question, type Situation, take } from "../../api/client";
import { key } from "../../api/keys";
import { useKept } from "../../app/local";
import { useUnits } from "../../app/units";
import { memberWords } from "../../format/words";
import type { Counting } from "./Counter";
import { methods, methodsFor } from "./methods";
import { blankDraft, type Draft } from "./methods/draft";
import { type BenchReading, newKey } from "./model";
import { useWeighing } from "./useWeighing";
import { type Money, readMoney } from "./VerdictPanel";

const nothing: Situation = {};
const noMoney: Money = { price: "", wrong: "", labor: "" };
const noMethod = "" as Method | "";

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

type Ask = {
  /** Names this bench's unsent input on this device. */
  store: string;
  question: Question;
  readings: BenchReading[];
  mayWrite: boolean;
  onKeep: (r: BenchReading) => void;
};

/** A bench at work: what is being taken, what it means with what is kept, and what is asked beside. */
export function useBench({ store, question, readings, mayWrite, onKeep }: Ask) {
  const [situation, setSituation] = useKept<Situation>(`${store}.situation`, nothing);
  const [goal, setGoal] = useKept<Plan["goal"]>(`${store}.goal`, "label");
  const [money, setMoney] = useKept<Money>(`${store}.money`, noMoney);
  const [blindWanted, setBlind] = useKept("zorvel.blind", true);
  const [all, setAll] = useState(false);
  const { members, situations } = useKnown(question);
  const card = useCard(store, mayWrite);
  const [units] = useUnits();
  const weighing = useWeighing({
    question,
    readings,
    situation,
    order: readMoney(money, goal),
    all,
    method: card.method,
    draft: card.draft,
    members,
    units,
    blindWanted,
  });
  const { drafted, refused, missing, notNumbers, summary, blind, base } = weighing;
  const { draft, method } = card;

  const done = () => {
    if (!drafted || !method || refused) {
      card.setTried(true);
      return;
    }
    onKeep({
      key: newKey(),
      reading: drafted,
      summary,
      at: new Date().toISOString(),
      note: draft.note.trim() || undefined,
      blind: blind || undefined,
    });
    methods[method].kept?.(drafted);
    card.begin();
  };
  const half = (field: string) =>
    draft.wheels === "each" && field.startsWith("turns/") && (draft.left || draft.right || draft.shaft.whole);
  /** What is wrong at a field, or still missing there once it was to be saved. */
  const error = (field: string) => {
    const at = field.replace(/^\//, "");
    return notNumbers[at] ?? (card.tried || half(at) ? missing[at] : undefined) ?? refused?.at(field);
  };
  return {
    ...weighing,
    ...card,
    units,
    members,
    situations,
    situation,
    setSituation,
    goal,
    setGoal,
    money,
    setMoney,
    blindWanted,
    setBlind,
    showAll: () => setAll(true),
    all,
    fitting: methodsFor(question.kind),
    next: base.last?.next.find((n) => n.goal === goal)?.options[0],
    done,
    error,
  };
}

export type BenchAtWork = ReturnType<typeof useBench>;

/** The card of the method that is being used, what was typed on it, and a count in progress. */
function useCard(store: string, mayWrite: boolean) {
  const [method, setMethod] = useKept(`${store}.method`, noMethod);
  const [draft, setDraft] = useKept<Draft>(`${store}.draft`, blankDraft);
  const [counting, setCounting] = useKept<Counting | null>(`${store}.counting`, null);
  const [tried, setTried] = useState(false);
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
  return {
    method,
    close: () => setMethod(""),
    draft,
    setDraft,
    tried,
    setTried,
    open,
    openOption,
    counting,
    setCounting,
    startCount,
    finishCount,
    /** An empty card for the next reading. The rim stays: it is the same flange next time. */
    begin: () => {
      setTried(false);
      setDraft({ ...blankDraft, shaft: { ...blankDraft.shaft, rim: draft.shaft.rim, rimIs: draft.shaft.rimIs } });
      setMethod("");
    },
  };
}
