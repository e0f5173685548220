import classes from "./findfault.module.css";
import type { Done } from "./tests";

/** What was told and tried, in order; any of it can be taken back. */
export function Seen({ done, onBack }: { done: Done[]; onBack: (i: number) => void }) {
  return (
    <ol className={classes.done}>
      {done.map((d, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: tests are known by their order
        <li key={i}>
          <b>{d.title}</b>
          {d.what && <small>{d.what}</small>}
          <button type="button" className="linklike" onClick={() => onBack(i)}>
            Remove
          </button>
        </li>
      ))}
    </ol>
  );
}
