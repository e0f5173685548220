import { Link } from "react-router";
import classes from "./words.module.css";

/** A word of the trade, with the way to what it means. */
export function Term({ find, children }: { find: string; children: string }) {
  return (
    <Link to={`/words?find=${encodeURIComponent(find)}`} className={classes.term}>
      {children}
    </Link>
  );
}
