import { Portal } from "@mantine/core";
import { useIntersection } from "@mantine/hooks";
import { type ReactNode, type RefObject, useEffect, useRef, useState } from "react";
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

/** The answer of a bench in large print, with what belongs under it. */
export function Plate({ kicker, says, children }: { kicker: ReactNode; says: string; children?: ReactNode }) {
  return (
    <AnswerPlate>
      <div>
        <p className="decide-kicker">{kicker}</p>
        <h2>{says}</h2>
        {children}
      </div>
    </AnswerPlate>
  );
}

/**
 * The answer of a bench. On a narrow screen its heading stays at the foot while the plate itself is out of view, above
 * the keyboard of a phone; a tap goes to the plate.
 */
export function AnswerPlate({
  className = "",
  mark,
  children,
}: {
  className?: string;
  /** What its edge tells by color. */
  mark?: string;
  children: ReactNode;
}) {
  const plate = useRef<HTMLDivElement>(null);
  return (
    <>
      <div className={`decide-plate ${className}`} data-mark={mark} aria-live="polite" ref={plate}>
        {children}
      </div>
      <InSight of={plate} />
    </>
  );
}

/** The heading of an answer at the foot of a narrow screen, while the answer is out of view. */
export function InSight({ of }: { of: RefObject<HTMLElement | null> }) {
  const lift = useKeyboard();
  const { ref, entry } = useIntersection({ threshold: 0.35, rootMargin: `0px 0px ${-lift}px 0px` });
  const [says, setSays] = useState("");
  // What the answer says is read off it after each change.
  useEffect(() => {
    ref(of.current);
    const text = of.current?.querySelector("h2, [data-says]")?.textContent ?? "";
    setSays(text.replace(/\s+/g, " ").trim());
  });
  if (!says || entry?.isIntersecting !== false) return null;
  return (
    <Portal>
      <button
        type="button"
        className={classes.foot}
        style={{ bottom: lift }}
        aria-hidden
        tabIndex={-1}
        onClick={() => of.current?.scrollIntoView({ block: "center" })}
      >
        {says}
      </button>
    </Portal>
  );
}

/** How much of the page's foot the keyboard of a phone covers. */
function useKeyboard() {
  const [height, setHeight] = useState(0);
  useEffect(() => {
    const view = window.visualViewport;
    if (!view) return;
    const measure = () => setHeight(Math.max(0, Math.round(window.innerHeight - view.height - view.offsetTop)));
    view.addEventListener("resize", measure);
    view.addEventListener("scroll", measure);
    return () => {
      view.removeEventListener("resize", measure);
      view.removeEventListener("scroll", measure);
    };
  }, []);
  return height;
}
