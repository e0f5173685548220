import type { ReactNode } from "react";
import type { Decision } from "../api/client";
import { when } from "../format/numbers";
import classes from "./answer.module.css";

/** What is to be heeded while it is done. */
export function Cautions({ list }: { list: string[] }) {
  return (
    <ul className="decide-cautions">
      {list.map((c) => (
        <li key={c}>{c}</li>
      ))}
    </ul>
  );
}

/** What is asked before the answer can be relied on. */
export function Asks({ list, mark = "?" }: { list: string[]; mark?: "?" | "△" }) {
  if (list.length === 0) return null;
  return (
    <ul className={classes.asks}>
      {list.map((a) => (
        <li key={a}>
          <b>{mark}</b> {a}
        </li>
      ))}
    </ul>
  );
}

/** The newest record of this kind, to start from. */
export function LastTime({ last, onTake }: { last: Decision; onTake: () => void }) {
  return (
    <p className={classes.last}>
      Last time, {when(last.at)}, {last.by}: {last.title}{" "}
      <button type="button" className="linklike" onClick={onTake}>
        Start from these figures
      </button>
    </p>
  );
}

/** The answer of a bench in large print, with what stands under it. */
export function Plate({ kicker, says, children }: { kicker: ReactNode; says: string; children?: ReactNode }) {
  return (
    <div className="decide-plate">
      <div>
        <p className="decide-kicker">{kicker}</p>
        <h2>{says}</h2>
        {children}
      </div>
    </div>
  );
}
