import { Button } from "@mantine/core";
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import type { PracticeFinding, PracticeReview } from "../../api/client";
import { minutes } from "../../format/numbers";
import classes from "./practice.module.css";

type Props = { review: PracticeReview; next?: () => void; again: () => void };

/** What it was, the score in its parts, and the learner's way beside the cheapest. */
export function Review({ review: r, next, again }: Props) {
  const top = useRef<HTMLDivElement>(null);
  useEffect(() => {
    top.current?.scrollIntoView({ block: "start" });
    top.current?.focus({ preventScroll: true });
  }, []);
  return (
    <div className={classes.review} ref={top} tabIndex={-1}>
      <section className={classes.verdict} data-right={r.right} role="status" aria-label="Result">
        <p className={classes.total}>
          <b>{r.score.total}</b> of 100 points
        </p>
        <p className={classes.sentence}>
          <span aria-hidden="true">{r.right ? "✓" : "✗"}</span> {r.sentence}
        </p>
        <dl className={classes.parts}>
          <Part name={`You said ${r.sure} % sure`} points={r.score.certainty} of={60} />
          <Part name="Minutes" points={r.score.economy} of={25} />
          <Part name="Cautions" points={r.score.care} of={15} />
        </dl>
        <div className={classes.row}>
          {next && <Button onClick={next}>Next unit</Button>}
          <Button variant="default" onClick={again}>
            This unit again
          </Button>
          <Button variant="subtle" component={Link} to="/practice">
            To the board
          </Button>
        </div>
        <p className={classes.hint}>Only the first try at a unit counts.</p>
      </section>
      {r.mistakes.length > 0 && (
        <section aria-labelledby="mistakes">
          <h2 id="mistakes">What went wrong</h2>
          <ul className={classes.mistakes}>
            {r.mistakes.map((m) => (
              <li key={m.words}>
                {m.words}
                {m.drill && <Link to={`/practice/drill/${m.drill}?level=1&cards=5`}>Drill it</Link>}
              </li>
            ))}
          </ul>
        </section>
      )}
      <p className={classes.hint}>
        The cheapest way costs least in all: its minutes, and what a wrong set would cost times the chance of one that
        is left. A wrong set counts as 600 minutes: a thousand dollars at a hundred an hour.
      </p>
      <div className={classes.ways}>
        <Way title="Your way" list={r.steps} none="You took no reading." total={r.minutes} />
        <Way title="The cheapest way" list={r.best} none="It could be said without a reading." total={r.cheapest} />
      </div>
    </div>
  );
}

function Part({ name, points, of }: { name: string; points: number; of: number }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>
        <span className={classes.bar} aria-hidden="true">
          <i style={{ width: `${Math.max(0, (100 * points) / of)}%` }} />
        </span>
        {points} of {of}
      </dd>
    </div>
  );
}

function Way({ title, list, none, total }: { title: string; list: PracticeFinding[]; none: string; total: number }) {
  return (
    <section className={classes.way} aria-label={title}>
      <h2>
        {title}, {minutes(total)}
      </h2>
      {list.length === 0 && <p>{none}</p>}
      <ol>
        {list.map((t, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: steps in their order, never moved
          <li key={i}>
            {t.words}
            <b>{t.meaning}</b>
          </li>
        ))}
      </ol>
    </section>
  );
}
