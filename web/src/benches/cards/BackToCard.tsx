import { Link, useLocation } from "react-router";
import { useKept } from "../../app/local";
import classes from "./cards.module.css";
import { type Away, awayStore } from "./useRun";

/** On top of a bench that was opened from a card: the way back to it. */
export function BackToCard() {
  const [away, setAway] = useKept<Away>(awayStore, null);
  const at = useLocation().pathname;
  if (!away || at.startsWith("/card-runs/")) return null;
  return (
    <div className={`${classes.away} no-print`}>
      <Link to={`/card-runs/${away.run}`} onClick={() => setAway(null)}>
        ← Back to the card
      </Link>
      <span>
        {away.title}: {away.step}
      </span>
      <button type="button" className="linklike" onClick={() => setAway(null)}>
        Stay here
      </button>
    </div>
  );
}
