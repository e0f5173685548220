import { Button, Loader } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import type { DrillCard, DrillMarked, PracticeBoard } from "../../api/client";
import { Band } from "../../app/Band";
import { useTitle } from "../../app/title";
import { Waiting } from "../../app/Waiting";
import { AnswerForm } from "./AnswerForm";
import { CardPicture } from "./CardPicture";
import classes from "./practice.module.css";
import { useBoard } from "./useBoard";
import { useCard } from "./useCard";

/** A few cards of one drill, one after the other, each marked at once. */
export function DrillPage() {
  const { drill = "" } = useParams();
  const [search] = useSearchParams();
  const { board } = useBoard();
  const skill = board?.drills.find((d) => d.id === drill);
  const level = Number(search.get("level") ?? skill?.next ?? 1);
  useTitle(skill?.title ?? "Drill", "Practice");
  return (
    <>
      <Band>
        <h1>
          <Link to="/practice">Practice</Link>
          <span> · {skill?.title.toLowerCase() ?? "drill"}</span>
        </h1>
        <p>
          Level {level}
          {skill?.levels[level - 1] && `: ${skill.levels[level - 1]?.words.toLowerCase()}`}
        </p>
      </Band>
      <main id="main" className="page">
        {skill && <p className={classes.story}>{skill.about}</p>}
        <Cards
          key={`${drill}${level}`}
          drill={drill}
          level={level}
          cards={Number(search.get("cards") ?? 5)}
          daily={search.get("daily") === "1" ? board : undefined}
        />
      </main>
    </>
  );
}

type Props = { drill: string; level: number; cards: number; daily?: PracticeBoard };

function Cards({ drill, level, cards, daily }: Props) {
  const [done, setDone] = useState<DrillMarked[]>([]);
  const { card, image, marked, error, refused, answer, next, again } = useCard(drill, level, (m) =>
    setDone((d) => [...d, m]),
  );
  const over = done.length >= cards && marked !== undefined;
  const [shown, setShown] = useState(false);
  const [built, setBuilt] = useState<Record<string, string>>({});
  const go = () => {
    if (over) setShown(true);
    else {
      setBuilt({});
      next();
    }
  };
  useHotkeys([["Enter", () => marked && !shown && go()]], ["BUTTON", "A"]);
  if (shown)
    return (
      <Sum
        done={done}
        drill={drill}
        daily={daily}
        again={() => {
          setDone([]);
          setShown(false);
          next();
        }}
      />
    );
  if (error && !card) return <Waiting title="Drill" missing={[]} error={error} />;
  if (!card) return <Loader m="xl" />;
  return (
    <article className={classes.card} aria-label={`Card ${done.length + (marked ? 0 : 1)} of ${cards}`}>
      <p className={classes.count}>
        Card {done.length + (marked ? 0 : 1)} of {cards}
      </p>
      <Facts card={card} />
      <CardPicture key={card.seed} card={card} image={image} marked={marked} built={built} />
      <h2>{card.ask}</h2>
      {!marked && (
        <AnswerForm key={card.seed} card={card} onAnswer={answer} refused={refused} built={built} onBuilt={setBuilt} />
      )}
      {marked && (
        <div className={classes.marked} data-right={marked.right} role="status">
          <p>
            <span aria-hidden="true">{marked.right ? "✓" : "✗"}</span> <b>{marked.right ? "Right." : "No."}</b>{" "}
            {marked.sentence}
          </p>
          {card.takes === "build" && !marked.right && (
            <Button variant="default" onClick={again} mr="sm">
              Build it again
            </Button>
          )}
          <Button onClick={go} autoFocus data-autofocus>
            {over ? "Sum up" : "Next card"}
          </Button>
        </div>
      )}
    </article>
  );
}

function Facts({ card }: { card: DrillCard }) {
  if (card.facts.length === 0) return null;
  return (
    <ul className={classes.facts}>
      {card.facts.map((f) => (
        <li key={f}>{f}</li>
      ))}
    </ul>
  );
}

/** How it went, and what comes next. */
function Sum({
  done,
  drill,
  daily,
  again,
}: {
  done: DrillMarked[];
  drill: string;
  daily?: PracticeBoard;
  again: () => void;
}) {
  const go = useNavigate();
  const right = done.filter((d) => d.right).length;
  const mean = Math.round(done.reduce((t, d) => t + d.points, 0) / done.length);
  const after = daily?.daily.find((d) => d.drill !== drill);
  return (
    <section className={classes.verdict} role="status" aria-label="Sum">
      <p className={classes.total}>
        <b>
          {right} of {done.length}
        </b>{" "}
        right, {mean} points
      </p>
      <div className={classes.row}>
        {after && (
          <Button
            onClick={() => go(`/practice/drill/${after.drill}?level=${after.level}&cards=${after.cards}&daily=1`)}
          >
            Next: {after.title}
          </Button>
        )}
        <Button variant={after ? "default" : "filled"} onClick={again}>
          {done.length === 1 ? "Another card" : `Another ${done.length}`}
        </Button>
        <Button variant="subtle" component={Link} to="/practice">
          To the board
        </Button>
      </div>
    </section>
  );
}
