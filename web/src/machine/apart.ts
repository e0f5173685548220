import { type RefObject, useLayoutEffect } from "react";

type Box = { el: HTMLElement; l: number; t: number; r: number; b: number; dx: number; dy: number; down: boolean };

const margin = 5;

/** Moves labels out of each other's way and into the drawing's frame, however narrow it is. */
export function setApart(frame: HTMLElement) {
  // Beside a standing machine they follow each other.
  if (frame.dataset.upright) {
    for (const el of frame.querySelectorAll<HTMLElement>(".spot")) el.style.translate = "";
    frame.style.marginTop = frame.style.marginBottom = "";
    return;
  }
  const f = frame.getBoundingClientRect();
  const boxes: Box[] = [];
  for (const el of frame.querySelectorAll<HTMLElement>(".spot")) {
    el.style.translate = "";
    const q = el.getBoundingClientRect();
    if (q.width === 0) continue;
    const l = q.left - f.left;
    const dx = l < 0 ? -l : l + q.width > f.width ? Math.max(-l, f.width - l - q.width) : 0;
    const t = q.top - f.top;
    boxes.push({
      el,
      l: l + dx,
      t,
      r: l + dx + q.width,
      b: t + q.height,
      dx,
      dy: 0,
      down: el.classList.contains("below"),
    });
  }
  const shift = (x: Box, by: number) => {
    x.t += by;
    x.b += by;
    x.dy += by;
  };
  for (let round = 0; round < 40; round++) {
    let moved = false;
    for (const [i, a] of boxes.entries()) {
      for (const z of boxes.slice(i + 1)) {
        if (a.l >= z.r + margin || z.l >= a.r + margin || a.t >= z.b + margin || z.t >= a.b + margin) continue;
        moved = true;
        const [upper, lower] = a.t + a.b <= z.t + z.b ? [a, z] : [z, a];
        const by = upper.b + margin - lower.t;
        // What hangs below goes down, the rest goes up while there is room.
        if (lower.down || upper.t - by < -40) shift(lower, by);
        else shift(upper, -by);
      }
    }
    if (!moved) break;
  }
  for (const x of boxes) if (x.dx || x.dy) x.el.style.translate = `${x.dx}px ${x.dy}px`;
  // The frame makes room for what went up or down.
  const top = Math.min(0, ...boxes.map((x) => x.t));
  const bottom = Math.max(f.height, ...boxes.map((x) => x.b));
  frame.style.marginTop = top < 0 ? `${-top}px` : "";
  frame.style.marginBottom = bottom > f.height ? `${bottom - f.height}px` : "";
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
