import { Button } from "@mantine/core";
import { useReducedMotion } from "@mantine/hooks";
import { useEffect, useState } from "react";
import type { DrillPicture } from "../../api/client";
import classes from "./practice.module.css";

/**
 * Teeth pass a pointer one by one, and somebody asks something in between: passing stops until he has his answer. Who
 * wants no motion passes them himself, tooth by tooth.
 */
export function Stream({ picture, done }: { picture: DrillPicture; done: boolean }) {
  const count = picture.count ?? 0;
  const still = useReducedMotion();
  const [passed, setPassed] = useState(-1); // not begun
  const [answered, setAnswered] = useState(0);
  const breaks = picture.breaks ?? [];
  const asked = breaks[answered];
  const interrupted = asked !== undefined && passed >= asked.after;
  const running = passed >= 0 && passed < count && !interrupted && !done;
  useEffect(() => {
    if (!running || still) return;
    const t = setTimeout(() => setPassed((n) => n + 1), 1000 * (picture.pace ?? 0.6));
    return () => clearTimeout(t);
  });
  if (done) return null;
  return (
    <div className={classes.stream} data-over={passed >= count || undefined}>
      <svg viewBox="0 0 640 110" role="img" aria-label="Teeth passing a chalk mark">
        <rect x="10" y="6" width="620" height="98" rx="16" className={classes.hole} />
        {Array.from({ length: 15 }, (_, i) => i - 7).map((i) => {
          const n = Math.max(0, passed) + i;
          if (n < 0 || n > count) return null;
          return (
            <path
              key={n}
              d="M-15 92L-8 42H8L15 92Z"
              className={classes.toothMetal}
              transform={`translate(${320 + i * 42} 0)`}
            />
          );
        })}
        <path d="M320 12V32M312 24L320 34L328 24" className={classes.pointer} />
      </svg>
      {passed < 0 && (
        <Button onClick={() => setPassed(0)} autoFocus>
          Start
        </Button>
      )}
      {interrupted && asked && (
        <div className={classes.break} role="alertdialog" aria-label="Somebody asks">
          <p>{asked.ask}</p>
          <div className={classes.row}>
            {asked.choices.map((c) => (
              <Button key={c} variant="default" onClick={() => setAnswered(answered + 1)}>
                {c}
              </Button>
            ))}
          </div>
        </div>
      )}
      {running && still && (
        <Button variant="default" onClick={() => setPassed(passed + 1)}>
          Next tooth
        </Button>
      )}
      {passed >= count && <p>That was the last one.</p>}
    </div>
  );
}
