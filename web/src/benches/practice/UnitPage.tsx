import { Alert, Button, Loader } from "@mantine/core";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { PracticeAct, PracticeOffer, PracticeScene } from "../../api/client";
import { Band } from "../../app/Band";
import { useTitle } from "../../app/title";
import { Waiting } from "../../app/Waiting";
import { minutes } from "../../format/numbers";
import { Decide } from "./Decide";
import { MeshSeen } from "./MeshSeen";
import { Notes } from "./Notes";
import classes from "./practice.module.css";
import { Review } from "./Review";
import { freshSeed } from "./results";
import { ShimForm } from "./ShimForm";
import { TurnedMachine } from "./TurnedMachine";
import { TurningGears } from "./TurningGears";
import { useUnitTask } from "./useUnitTask";
import { WholeMachine } from "./WholeMachine";

/** One hidden unit: from the story to the order. */
export function UnitPage() {
  const { kind = "ratio", level = "1", seed = "1" } = useParams();
  const go = useNavigate();
  const work = useUnitTask({ kind, level: Number(level), seed: Number(seed) });
  return (
    <Hidden
      work={work}
      about={`Level ${level}, unit ${kind}-${level}-${seed}`}
      next={() => go(`/practice/unit/${kind}/${level}/${freshSeed()}`)}
    />
  );
}

/** A kind of unit within a heading; a teacher's title stays as he wrote it. */
const titleOf = (s: PracticeScene) =>
  s.task.kind === "own" ? s.title : s.title.charAt(0).toLowerCase() + s.title.slice(1);

type Props = { work: ReturnType<typeof useUnitTask>; about: string; next?: () => void };

/** A hidden unit, drawn or a teacher's. */
export function Hidden({ work: { scene, refused, error, act, again }, about, next }: Props) {
  useTitle(scene?.title ?? "Hidden unit", "Practice");
  return (
    <>
      <Band>
        <h1>
          <Link to="/practice">Practice</Link>
          <span> · {scene ? titleOf(scene) : "hidden unit"}</span>
        </h1>
        <p>{about}</p>
        {scene && (
          <p className={classes.clock} role="timer" aria-live="off">
            {Math.round(scene.minutes)} min so far
          </p>
        )}
        <Button variant="default" size="xs" onClick={again}>
          Start over
        </Button>
      </Band>
      <main id="main" className="page">
        {refused && (
          <Alert color="red" role="alert" mb="sm" title="That can't be done">
            {refused.faults.map((f) => f.message).join(" ") || refused.message}
          </Alert>
        )}
        {!scene && error && <Waiting title="Hidden unit" missing={[]} error={error} />}
        {!scene && !error && <Loader m="xl" />}
        {scene?.review && <Review review={scene.review} next={next} again={again} />}
        {scene && !scene.review && <Working scene={scene} act={act} />}
        {scene?.review && <Log scene={scene} />}
      </main>
    </>
  );
}

const groups: [id: string, words: string][] = [
  ["safe", "Make it safe"],
  ["ready", "Get it ready"],
  ["turn", "Turn"],
  ["look", "Look and measure"],
  ["drive", "Drive"],
];

/** The unit on the left, what is known of it and the decision on the right. */
function Working({ scene, act }: { scene: PracticeScene; act: (a: PracticeAct) => void }) {
  const m = scene.machine;
  const [part, setPart] = useState("");
  return (
    <div className={classes.working}>
      <div className={classes.hands}>
        <p className={classes.story}>{scene.story}</p>
        {m && m.outputs.length > 0 && <TurnedMachine machine={m} offers={scene.offers} act={act} />}
        {m?.gears && <TurningGears gears={m.gears} />}
        {m?.mesh && <MeshSeen mesh={m.mesh} />}
        {scene.driveline && <WholeMachine doc={scene.driveline} part={part} onPart={setPart} offers={scene.offers} />}
        <p className={classes.caution}>{scene.caution}</p>
        {groups.map(([id, words]) => (
          <Offers
            key={id}
            title={words}
            list={scene.offers.filter((o) => o.group === id && !o.takes && (part === "" || !o.part || o.part === part))}
            act={act}
          />
        ))}
      </div>
      <div className={classes.known}>
        <Log scene={scene} />
        <Notes scene={scene} act={act} />
        {m?.mesh && <ShimForm mesh={m.mesh} act={act} />}
        <Decide key={scene.task.seed} asked={scene.asked} act={act} />
      </div>
    </div>
  );
}

const many = 12;

/** What can be done now, as buttons with what each takes; a long list is folded. */
function Offers({ title, list, act }: { title: string; list: PracticeOffer[]; act: (a: PracticeAct) => void }) {
  if (list.length === 0) return null;
  const buttons = (
    <div className={list.length > many ? classes.tests : classes.offers}>
      {list.map((o) => (
        <button
          key={`${o.do} ${o.on}`}
          type="button"
          className={o.group === "safe" ? classes.safe : undefined}
          onClick={() => act({ do: o.do, on: o.on })}
        >
          <span>{o.label}</span>
          {o.minutes !== undefined && <small>{minutes(o.minutes)}</small>}
        </button>
      ))}
    </div>
  );
  if (list.length > many) {
    return (
      <details className={classes.group}>
        <summary>
          {title} <small>{list.length} tests</small>
        </summary>
        {buttons}
      </details>
    );
  }
  return (
    <section className={classes.group} aria-label={title}>
      <h2>{title}</h2>
      {buttons}
    </section>
  );
}

/** What was done and seen, the newest first. */
function Log({ scene }: { scene: PracticeScene }) {
  if (scene.log.length === 0) return null;
  const list = scene.log.map((d, i) => ({ ...d, n: i + 1 })).reverse();
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls is scrolled by keys
    <section className={classes.log} aria-label="What you did" tabIndex={0}>
      <h2>What you did</h2>
      <ol reversed>
        {list.map((d) => (
          <li key={d.n} aria-live={d.n === list.length ? "polite" : undefined}>
            <span>
              {d.words} <small>{d.minutes > 0 && minutes(d.minutes)}</small>
            </span>
            {d.saw && <b>{d.saw}</b>}
            {scene.review && d.forgot && <em>{d.forgot}</em>}
          </li>
        ))}
      </ol>
    </section>
  );
}
