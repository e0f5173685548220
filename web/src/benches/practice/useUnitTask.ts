import { useEffect, useRef } from "react";
import {
  api,
  type PracticeAct,
  type PracticeQuestion,
  type PracticeReview,
  type PracticeScene,
  take,
} from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useKept } from "../../app/local";
import { today, useAddAttempt } from "./results";

type Task = PracticeQuestion["task"];
type Working = { task: Task; acts: PracticeAct[]; key: string; recorded?: boolean };

const nothing: Working | null = null;
const same = (a: Task, b: Task) => a.kind === b.kind && a.level === b.level && a.seed === b.seed;
const begin = (task: Task): Working => ({ task, acts: [], key: crypto.randomUUID() });

type Ask = (q: PracticeQuestion, signal: AbortSignal) => Promise<PracticeScene>;

const drawn: Ask = (q, signal) => take(api.POST("/calc/practice", { body: q, signal }));

/** A unit that is worked on: what was done stays on this device until another is opened. */
export function useUnitTask(task: Task, ask = drawn) {
  const [saved, set] = useKept<Working | null>("zorvel.practice.unit", nothing);
  const fresh = useRef<Working>(undefined);
  if (!fresh.current || !same(fresh.current.task, task)) fresh.current = begin(task);
  const now = saved && same(saved.task, task) ? saved : fresh.current;
  const { answer, last, refused, error, asking } = useCalc(key.practice, { task: now.task, acts: now.acts }, ask, {
    rest: 0,
  });
  const scene = answer ?? last;
  // What was refused is taken back, so that the unit stands as it was; its reason stays in sight.
  const bad = refused && now.acts.length > 0 ? refused : undefined;
  const good = useRef(0);
  if (answer && !asking) good.current = now.acts.length;
  useRecord(now, answer?.review && !asking ? answer.review : undefined, () => set({ ...now, recorded: true }));
  const put = (acts: PracticeAct[]) => set({ ...now, acts });
  return {
    scene: scene && same(scene.task, task) ? scene : undefined,
    refused: bad,
    error,
    act: (a: PracticeAct) => put([...(bad ? now.acts.slice(0, good.current) : now.acts), a]),
    again: () => set(begin(task)),
  };
}

/** Writes a decided unit into the learner's results, once. */
function useRecord(now: Working, review: PracticeReview | undefined, recorded: () => void) {
  const add = useAddAttempt();
  const done = useRef("");
  useEffect(() => {
    if (!review || now.task.kind === "own" || now.recorded || done.current === now.key) return;
    done.current = now.key;
    add({
      key: now.key,
      unit: { task: now.task, acts: now.acts },
      result: {
        what: now.task.kind,
        level: now.task.level,
        seed: now.task.seed,
        day: today(),
        points: review.score.total,
        right: review.right,
        helps: [...new Set(review.mistakes.flatMap((m) => m.drill ?? []))].slice(0, 10),
      },
    });
    recorded();
  }, [review, now, add, recorded]);
}
