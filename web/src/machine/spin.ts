import { useEffect, useEffectEvent } from "react";

/**
 * One angle turns the whole drawing: that of the input, in turns. Shafts draw
 * themselves at their own multiple of it, past React, once per frame.
 */
type Draw = (turns: number) => void;

const draws = new Set<Draw>();
let turns = 0;
let speed = 0;
let last = 0;
let frame = 0;

function show() {
  for (const d of draws) d(turns);
}

function tick(now: number) {
  turns += (speed * Math.min(now - last, 100)) / 1000;
  last = now;
  show();
  frame = speed === 0 ? 0 : requestAnimationFrame(tick);
}

/** Sets how many turns the input makes in a second; 0 stops. */
export function setSpin(turnsPerSecond: number) {
  speed = turnsPerSecond;
  if (speed !== 0 && frame === 0) {
    last = performance.now();
    frame = requestAnimationFrame(tick);
  }
}

/** Turns the input by hand, a part of a turn at once. */
export function nudge(part: number) {
  turns += part;
  show();
}

/** Calls draw with the input's turns at every frame, and once at the start, until it is ended. */
export function watch(draw: Draw) {
  draws.add(draw);
  draw(turns);
  return () => {
    draws.delete(draw);
  };
}

/** Watches for as long as the component stands. */
export function useSpin(draw: Draw) {
  const now = useEffectEvent(draw);
  useEffect(() => watch((t) => now(t)), []);
  useEffect(() => now(turns));
}
