import clsx from "clsx";
import { useEffect, useRef } from "react";
import { createPortal } from "react-dom";
import classes from "./identify.module.css";

export type Counting = { target: string; name: string; what: "teeth" | "turns"; n: number };

const more = (n: number) => n + 1;
const less = (n: number) => Math.max(0, n - 1);

/** Keeps the screen on while the counter is open, where the browser can. */
function useWakeLock() {
  useEffect(() => {
    let lock: WakeLockSentinel | undefined;
    let gone = false;
    const ask = async () => {
      if (document.visibilityState !== "visible") return;
      try {
        const l = await navigator.wakeLock?.request("screen");
        if (gone) await l?.release();
        else lock = l;
      } catch {
        // Refused, for example on low battery: counting still works.
      }
    };
    void ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      gone = true;
      document.removeEventListener("visibilitychange", ask);
      void lock?.release();
    };
  }, []);
}

type Props = {
  counting: Counting;
  /** Given the next count from the last, so that no quick count is lost. */
  onCount: (next: (n: number) => number) => void;
  onDone: (n: number) => void;
  onClose: () => void;
};

/** The counter's keys. Tells whether a click is but the echo of a key that has counted. */
function useCountKeys({ counting: { n }, onCount, onDone, onClose }: Props) {
  // The key that counts and is not up yet, by its number; 0 is none.
  const keyed = useRef(0);
  const keys = useRef(0);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey) return;
      const button = (e.target as HTMLElement | null)?.closest("button");
      const onOther = button && button.dataset.part !== "target";
      if ((e.key === " " || e.key === "Enter") && onOther) return;
      if (e.key === " " || e.key === "Enter") {
        if (!e.repeat) onCount(more);
      } else if (e.key === "Backspace") onCount(less);
      else if (e.key === "d" || e.key === "D") onDone(n);
      else if (e.key === "Escape") onClose();
      else return;
      keys.current += 1;
      keyed.current = keys.current;
      e.preventDefault();
      e.stopPropagation();
    };
    // A key's echo comes with its keyup at the latest.
    const up = () => {
      const last = keyed.current;
      setTimeout(() => {
        if (keyed.current === last) keyed.current = 0;
      });
    };
    window.addEventListener("keydown", key, true);
    window.addEventListener("keyup", up, true);
    return () => {
      window.removeEventListener("keydown", key, true);
      window.removeEventListener("keyup", up, true);
    };
  }, [n, onCount, onDone, onClose]);
  return () => keyed.current !== 0;
}

/** What to do, as far as the count is. */
function hint(what: Counting["what"], n: number) {
  if (what === "teeth")
    return n === 0
      ? "The chalked start tooth is zero. Count the next one."
      : "Stop at the start tooth: count it once, as the last.";
  return n === 0
    ? "Marks in line. Count each time the mark comes round."
    : "Count whole turns only; the partial turn comes after.";
}

/**
 * Counts teeth or turns on the whole screen. Space, Enter, a foot pedal or a
 * touch anywhere counts; Backspace takes one back.
 */
export function Counter(props: Props) {
  const { counting, onCount, onDone, onClose } = props;
  const { n, what, name } = counting;
  const root = useRef<HTMLDivElement>(null);
  useWakeLock();
  useEffect(() => {
    const before = document.activeElement as HTMLElement | null;
    root.current?.querySelector<HTMLElement>("[data-part=target]")?.focus();
    return () => before?.focus?.();
  }, []);
  const isEcho = useCountKeys(props);
  const tens = Math.floor(n / 10);
  const ones = n % 10;
  const atTen = n > 0 && ones === 0;
  return createPortal(
    <div
      ref={root}
      data-part="counter"
      className={clsx(classes.counter, n % 2 ? classes.odd : classes.even, atTen && classes.ten)}
      role="dialog"
      aria-modal="true"
      aria-label={`Counting ${name}`}
    >
      <div className={classes.countHead}>
        <b>{name}</b>
        <span>{hint(what, n)}</span>
        <button type="button" onClick={onClose}>
          Set aside
        </button>
      </div>
      <button
        type="button"
        className={classes.countTarget}
        data-part="target"
        onPointerDown={(e) => {
          if (e.button === 0) onCount(more);
        }}
        onClick={(e) => {
          // A click without a pointer comes from a switch or a screen
          // reader, unless it is the echo of a key that has counted.
          if (e.detail === 0 && !isEcho()) onCount(more);
        }}
      >
        <span className={classes.countNumber} data-part="count" aria-live="assertive">
          {n}
        </span>
        <span className={classes.countOnes} aria-hidden="true">
          {Array.from({ length: 10 }, (_, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: ten fixed places
            <i key={i} className={i < ones || atTen ? classes.on : undefined} />
          ))}
        </span>
        <span className={classes.countTens}>
          {atTen ? (what === "teeth" ? `Chalk a dot here: ${n}` : `${n} turns`) : tens > 0 ? `${tens} × ten` : "\u00a0"}
        </span>
      </button>
      <div className={classes.countFoot}>
        <button type="button" onClick={() => onCount(less)} disabled={n === 0}>
          Undo one
        </button>
        <button type="button" onClick={() => onCount(() => 0)} disabled={n === 0}>
          Start over at zero
        </button>
        <button type="button" className={classes.countDone} onClick={() => onDone(n)} disabled={n === 0}>
          Done: {n}
        </button>
      </div>
    </div>,
    document.body,
  );
}
