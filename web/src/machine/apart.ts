import { type RefObject, useLayoutEffect } from "react";
import { type Label, moveLabels, type Rect } from "./labels";

/** What a label may not lie over. */
const drawnShapes = "svg.machine :is(.housing, .idle > rect, .disc-body, .rod-body)";

/** A label that moved further than this, in pixels, gets a line to its part. */
const farOff = 16;

/** Moves labels off each other and off the drawing, however narrow its frame is. */
export function setApart(frame: HTMLElement) {
  const spots = [...frame.querySelectorAll<HTMLElement>(".spot")];
  for (const el of spots) {
    el.style.translate = "";
    delete el.dataset.led;
  }
  // Beside a standing machine they follow each other.
  if (frame.dataset.upright) {
    frame.style.marginTop = frame.style.marginBottom = "";
    return;
  }
  const f = frame.getBoundingClientRect();
  const rect = (el: Element): Rect => {
    const q = el.getBoundingClientRect();
    return { l: q.left - f.left, t: q.top - f.top, w: q.width, h: q.height };
  };
  const shown = spots.filter((el) => el.getBoundingClientRect().width > 0);
  const labels = shown.map((el): Label => ({ ...rect(el), goes: way(el) }));
  // Small marks lie in the middle of what they mark.
  const beside = shown.some((el) => el.matches(".above, .below, .left, .right"));
  const drawn = beside ? [...frame.querySelectorAll(drawnShapes)].map(rect) : [];
  const moves = moveLabels(labels, drawn, f.width);
  let top = 0;
  let bottom = f.height;
  for (const [i, q] of labels.entries()) {
    const { dx, dy } = moves[i] ?? { dx: 0, dy: 0 };
    top = Math.min(top, q.t + dy);
    bottom = Math.max(bottom, q.t + q.h + dy);
    const el = shown[i];
    if (!el || (!dx && !dy)) continue;
    el.style.translate = `${dx}px ${dy}px`;
    if (Math.hypot(dx, dy) > farOff) lead(el, q, dx, dy);
  }
  // The frame makes room for what went up or down.
  frame.style.marginTop = top < 0 ? `${-top}px` : "";
  frame.style.marginBottom = bottom > f.height ? `${bottom - f.height}px` : "";
}

const way = (el: Element): Label["goes"] =>
  el.matches(".below") ? "down" : el.matches(".left, .right") ? "either" : "up";

/** A line from a label's edge to the place on the drawing that it names. */
function lead(el: HTMLElement, q: Rect, dx: number, dy: number) {
  // Where the label is tied to, seen from its own corner.
  const tied = el.classList.contains("right")
    ? [0, q.h / 2]
    : el.classList.contains("left")
      ? [q.w, q.h / 2]
      : [q.w / 2, el.classList.contains("below") ? 0 : q.h];
  const [x = 0, y = 0] = [(tied[0] ?? 0) - dx, (tied[1] ?? 0) - dy];
  const fx = Math.max(0, Math.min(q.w, x));
  const fy = Math.max(0, Math.min(q.h, y));
  el.dataset.led = "";
  const set = (name: string, value: string) => el.style.setProperty(`--lead-${name}`, value);
  set("x", `${fx}px`);
  set("y", `${fy}px`);
  set("length", `${Math.hypot(x - fx, y - fy)}px`);
  set("angle", `${Math.atan2(y - fy, x - fx)}rad`);
}

/** Keeps labels apart as the drawing changes its size or its labels. */
export function useApart(frame: RefObject<HTMLElement | null>, what: unknown) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: what stands for the labels that are shown
  useLayoutEffect(() => {
    const el = frame.current;
    if (!el) return;
    setApart(el);
    let width = el.clientWidth;
    const seen = new ResizeObserver(() => {
      if (el.clientWidth === width) return;
      width = el.clientWidth;
      setApart(el);
    });
    seen.observe(el);
    void document.fonts?.ready.then(() => el.isConnected && setApart(el));
    return () => seen.disconnect();
  }, [frame, what]);
}
