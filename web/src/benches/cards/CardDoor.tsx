import { Button } from "@mantine/core";
import { Link } from "react-router";
import { when } from "../../format/numbers";
import { useRuns } from "./CardsPage";

/** From a bench to the card of its job: those in hand, and a new one. */
export function CardDoor({ card, unit, part, title }: { card: string; unit?: number; part?: string; title: string }) {
  if (unit === undefined)
    return (
      <p>
        <Link to={`/cards/${card}`}>{title}, step by step</Link>. On a unit it is checked off, with who and when.
      </p>
    );
  return <Own card={card} unit={unit} part={part} title={title} />;
}

function Own({ card, unit, part, title }: { card: string; unit: number; part?: string; title: string }) {
  const runs = (useRuns(unit).data ?? []).filter((r) => r.card === card);
  return (
    <div className="stack">
      {runs.map((r) => (
        <p key={r.id}>
          <Link to={`/card-runs/${r.id}`}>{r.title}</Link>{" "}
          <small className="dim">
            {r.closed_at
              ? `closed by ${r.closed_by}, ${when(r.closed_at)}`
              : `in progress, started by ${r.by}, ${when(r.at)}`}
          </small>
        </p>
      ))}
      <div>
        <Button component={Link} to={`/units/${unit}/cards?card=${card}${part ? `&part=${part}` : ""}`}>
          Start the card: {title}
        </Button>
      </div>
    </div>
  );
}
