import { Button } from "@mantine/core";
import { Link, useLocation, useNavigate } from "react-router";
import { blankDraft, type Draft } from "../benches/identify/methods/draft";
import { type BenchReading, benchStore } from "../benches/identify/model";
import classes from "./firstVisit.module.css";
import { useKept } from "./local";

const store = benchStore({ kind: "ring_and_pinion" });
const path = "/count/ring_and_pinion";
const noReadings: BenchReading[] = [];

/** new: offered; going: on the way; done: gone through, or skipped. */
type Visit = "new" | "going" | "done";

const useVisit = () => useKept<Visit>("zorvel.visit", "new");

/** On the first page: a first count with somebody beside one. */
export function FirstVisitOffer() {
  const [visit, setVisit] = useVisit();
  const [benches] = useKept<unknown[]>("zorvel.benches", noReadings);
  const [asked] = useKept("zorvel.units.asked", false);
  const navigate = useNavigate();
  // One question at a time.
  if (visit !== "new" || !asked || benches.length > 0) return null;
  return (
    <aside className={classes.offer} aria-label="First visit">
      <span>First time here? Count one axle in five steps.</span>
      <Button
        size="compact-md"
        onClick={() => {
          setVisit("going");
          navigate(path);
        }}
      >
        Show me
      </Button>
      <Button size="compact-md" variant="subtle" onClick={() => setVisit("done")}>
        Skip
      </Button>
    </aside>
  );
}

/** The five steps, each done by really doing it. */
const steps: { say: string; done: (method: string, draft: Draft, readings: BenchReading[]) => boolean }[] = [
  {
    say: "Tap Turn wheels. No axle at hand? Pretend: one turn of both wheels.",
    done: (method, _, r) => method === "turns" || r.length > 0,
  },
  { say: "Say what the wheels did.", done: (_, d, r) => d.other !== "" || r.length > 0 },
  {
    say: "Enter the flange's whole turns and what is left of one, for example 4 and 1 tenth.",
    done: (_, d, r) => d.shaft.whole !== "" || d.shaft.words !== "" || r.length > 0,
  },
  { say: "The range is below already. Save the reading.", done: (_, __, r) => r.length > 0 },
  {
    say: "What to do next is right below. A second reading settles it; then file it with a unit.",
    done: (_, __, r) => r.length > 1,
  },
];

/** Over the bench: the step one is at. */
export function FirstVisitGuide() {
  const [visit, setVisit] = useVisit();
  const { pathname } = useLocation();
  const [method] = useKept(`${store}.method`, "");
  const [draft] = useKept<Draft>(`${store}.draft`, blankDraft);
  const [readings] = useKept<BenchReading[]>(`${store}.readings`, noReadings);
  if (visit !== "going") return null;
  const at = steps.findIndex((s) => !s.done(method, draft, readings));
  const step = steps[at];
  return (
    <aside className={classes.guide} aria-label="First visit" aria-live="polite">
      <b>{step ? `Step ${at + 1} of ${steps.length}` : "That's all of it"}</b>
      <span>{step ? step.say : "Two readings, one ratio. Everything else works the same way."}</span>
      {pathname !== path && <Link to={path}>Back to the axle</Link>}
      <Button size="compact-md" variant="subtle" color="gray" onClick={() => setVisit("done")}>
        {step ? "Skip" : "Done"}
      </Button>
    </aside>
  );
}
