import { Button, TextInput } from "@mantine/core";
import clsx from "clsx";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { PracticeBoard, PracticeSkill } from "../../api/client";
import { Band } from "../../app/Band";
import { useTitle } from "../../app/title";
import { Waiting } from "../../app/Waiting";
import { EyePicture } from "./EyePicture";
import classes from "./practice.module.css";
import { Record } from "./Record";
import { freshSeed } from "./results";
import { Tasks } from "./Tasks";
import { useBoard } from "./useBoard";

/** What a learner sees first: today's five minutes, the units, the drills, and his eye. */
export function PracticePage() {
  useTitle("Practice");
  const { board, results, error } = useBoard();
  return (
    <>
      <Band>
        <h1>Practice</h1>
        {board && (
          <p>
            {board.mastered} of {board.levels} levels mastered. {board.today} done today.
          </p>
        )}
      </Band>
      <main id="main" className="page">
        {board ? <Board board={board} results={results} /> : <Waiting title="Practice" missing={[]} error={error} />}
      </main>
    </>
  );
}

type Results = ReturnType<typeof useBoard>["results"];

function Board({ board, results }: { board: PracticeBoard; results: Results }) {
  return (
    <div className={classes.board}>
      <Today board={board} />
      <section aria-labelledby="units">
        <h2 id="units">Hidden units</h2>
        <div className={classes.units}>
          {board.units.map((s) => (
            <UnitCard key={s.id} skill={s} />
          ))}
        </div>
        <ByNumber board={board} />
      </section>
      <section aria-labelledby="drills">
        <h2 id="drills">Drills</h2>
        <ul className={classes.drills}>
          {board.drills.map((s) => (
            <DrillRow key={s.id} skill={s} />
          ))}
        </ul>
      </section>
      <Tasks />
      <Record results={results} />
    </div>
  );
}

const drillPath = (d: { drill: string; level: number; cards: number }) =>
  `/practice/drill/${d.drill}?level=${d.level}&cards=${d.cards}`;

/** Five minutes of what is due, and what the learner's own eye is worth. */
function Today({ board }: { board: PracticeBoard }) {
  const [first] = board.daily;
  return (
    <section className={classes.today} aria-labelledby="daily">
      <div>
        <h2 id="daily">Today's five minutes</h2>
        {first ? (
          <ol>
            {board.daily.map((d) => (
              <li key={d.drill}>
                <Link to={drillPath(d)}>{d.title}</Link>
                <span>
                  {d.why}, {d.cards === 1 ? "1 card" : `${d.cards} cards`}
                </span>
              </li>
            ))}
          </ol>
        ) : (
          <p>Nothing is due today. Take on a hidden unit.</p>
        )}
        {first && (
          <Button component={Link} to={`${drillPath(first)}&daily=1`} mt="xs" variant="white" color="dark">
            Start
          </Button>
        )}
      </div>
      {board.eye && (
        <div className={classes.eye}>
          <EyePicture eye={board.eye} />
          <p>{board.eye.sentence}</p>
        </div>
      )}
    </section>
  );
}

/** One kind of unit with its levels; the next one is a tap away. */
function UnitCard({ skill }: { skill: PracticeSkill }) {
  const [seed] = useState(freshSeed);
  const at = skill.levels[skill.next - 1];
  return (
    <article className={classes.unit}>
      <h3>{skill.title}</h3>
      <p>{skill.about}</p>
      <Levels skill={skill} path={(n) => `/practice/unit/${skill.id}/${n}/${seed}`} />
      <p className={classes.next}>
        <b>Level {skill.next}.</b> {at?.words}.{at?.mean !== undefined && ` Last ones: ${at.mean} points.`}
      </p>
      <Button component={Link} to={`/practice/unit/${skill.id}/${skill.next}/${seed}`} variant="default">
        Level {skill.next}: {at?.done === 0 ? "start" : "next unit"}
      </Button>
    </article>
  );
}

/** The levels as marks: mastered, open or still closed, by fill, line and words. */
function Levels({ skill, path }: { skill: PracticeSkill; path: (level: number) => string }) {
  return (
    <ol className={classes.levels} aria-label={`Levels of ${skill.title}`}>
      {skill.levels.map((l, i) => {
        const n = i + 1;
        const state = l.mastered ? "mastered" : l.open ? "open" : "closed";
        return (
          <li key={`${skill.id}${n}`}>
            {l.open ? (
              <Link
                to={path(n)}
                className={clsx(classes.level, classes[state])}
                aria-label={`Level ${n}, ${state}: ${l.words}`}
                title={l.words}
              >
                {l.mastered ? "✓" : n}
              </Link>
            ) : (
              <span
                className={clsx(classes.level, classes.closed)}
                role="img"
                aria-label={`Level ${n}, closed until level ${n - 1} is mastered`}
                title={`${l.words}. Opens when level ${n - 1} is mastered.`}
              >
                {n}
              </span>
            )}
          </li>
        );
      })}
    </ol>
  );
}

function dueWords(s: PracticeSkill) {
  if (s.due === undefined) return "new";
  if (s.due <= 0) return "due";
  return s.due === 1 ? "due tomorrow" : `due in ${s.due} days`;
}

function DrillRow({ skill }: { skill: PracticeSkill }) {
  const at = skill.levels[skill.next - 1];
  return (
    <li>
      <Link to={`/practice/drill/${skill.id}?level=${skill.next}&cards=5`}>
        <b>{skill.title}</b>
        <span>{skill.about}</span>
      </Link>
      <Levels skill={skill} path={(n) => `/practice/drill/${skill.id}?level=${n}&cards=5`} />
      <span className={classes.due}>
        {dueWords(skill)}
        {at?.mean !== undefined && `, ${at.mean} points`}
      </span>
    </li>
  );
}

/** A class that enters one number works on one unit. */
function ByNumber({ board }: { board: PracticeBoard }) {
  const [text, setText] = useState("");
  const go = useNavigate();
  const [, kind, level, seed] = /^\s*([a-z]+)-(\d)-(\d{1,10})\s*$/i.exec(text) ?? [];
  const known = board.units.find((u) => u.id === kind?.toLowerCase());
  const open = known && Number(level) >= 1 && Number(level) <= known.levels.length && Number(seed) < 2 ** 32;
  const ids = board.units.map((u) => u.id).join(", ");
  return (
    <form
      className={classes.number}
      onSubmit={(e) => {
        e.preventDefault();
        if (open) go(`/practice/unit/${known.id}/${level}/${seed}`);
      }}
    >
      <TextInput
        label="Unit number"
        description="The same number is the same unit for a whole class."
        placeholder="ratio-2-1207"
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
        error={text !== "" && !open ? `For example ratio-2-1207: one of ${ids}, the level, and a number.` : undefined}
      />
      <Button type="submit" variant="default" disabled={!open}>
        Open
      </Button>
    </form>
  );
}
