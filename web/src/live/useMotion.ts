import { useCallback, useEffect, useRef, useState } from "react";
import { api, type LiveMotion, Refused, take } from "../api/client";

/** What a phone lets a page do with its motion sensors. */
export type MotionState =
  | { at: "ready" }
  | { at: "insecure" }
  | { at: "none" }
  | { at: "refused" }
  | { at: "silent" }
  | { at: "asking" }
  | { at: "sending"; turns?: number; low?: number; high?: number; level?: boolean; waiting: number; trouble?: string }
  | { at: "over"; why: string };

/** iOS asks before it tells a page of motion. */
type Asks = typeof DeviceMotionEvent & { requestPermission?: () => Promise<"granted" | "denied"> };

/** How often what was sensed is sent, and how much of it at most; how much waits where nothing gets through. */
const sendEvery = 250;
const mostAtOnce = 600;
const mostWaiting = 18_000;
/** A device that tells nothing for so long has no gyroscope, or keeps it closed. */
const silentAfter = 2500;

type Join = { id: number; token: string; now: number; joinedAt: number };

/** Sends what this phone senses to the count that it joined. */
export function useMotion(join: Join | undefined): { state: MotionState; start: () => void } {
  const [state, setState] = useState<MotionState>(() => allowed());
  const queue = useRef<LiveMotion[]>([]);
  const [on, setOn] = useState(false);
  const start = useCallback(async () => {
    setState({ at: "asking" });
    const asks = window.DeviceMotionEvent as Asks;
    try {
      if (asks.requestPermission && (await asks.requestPermission()) !== "granted") {
        setState({ at: "refused" });
        return;
      }
    } catch {
      setState({ at: "refused" });
      return;
    }
    setOn(true);
  }, []);
  useEffect(() => {
    if (!on || !join) return;
    let heard = false;
    const sense = (e: DeviceMotionEvent) => {
      const r = e.rotationRate;
      const a = e.accelerationIncludingGravity;
      if (!r || r.alpha === null || !a || a.x === null) return;
      heard = true;
      if (queue.current.length >= mostWaiting) queue.current.shift();
      queue.current.push({
        at: join.now + (e.timeStamp - join.joinedAt) / 1000,
        rate: [r.beta ?? 0, r.gamma ?? 0, r.alpha ?? 0],
        accel: [a.x ?? 0, a.y ?? 0, a.z ?? 0],
      });
    };
    window.addEventListener("devicemotion", sense);
    const silent = setTimeout(() => !heard && setState({ at: "silent" }), silentAfter);
    const stop = sending(join, queue.current, setState);
    return () => {
      window.removeEventListener("devicemotion", sense);
      clearTimeout(silent);
      stop();
    };
  }, [on, join]);
  useAwake(on && state.at === "sending");
  return { state, start };
}

function allowed(): MotionState {
  if (!window.isSecureContext) return { at: "insecure" };
  return typeof DeviceMotionEvent === "undefined" ? { at: "none" } : { at: "ready" };
}

/** Sends what waits, one batch after the other, until it is stopped or the count ends. */
function sending(join: Join, queue: LiveMotion[], tell: (s: MotionState) => void): () => void {
  let over = false;
  let busy = false;
  const timer = setInterval(async () => {
    if (busy || over || queue.length === 0) return;
    busy = true;
    const batch = queue.slice(0, mostAtOnce);
    try {
      const got = await take(
        api.POST("/live/{id}/points", {
          params: { path: { id: join.id } },
          body: { token: join.token, motion: batch },
        }),
      );
      queue.splice(0, batch.length);
      if (!over) tell({ at: "sending", ...got, waiting: queue.length });
    } catch (e) {
      if (e instanceof Refused && (e.status === 403 || e.status === 409)) {
        over = true;
        clearInterval(timer);
        tell({ at: "over", why: e.message });
      } else if (!over) {
        tell({
          at: "sending",
          waiting: queue.length,
          trouble: "Not getting through. What is sensed waits and goes later.",
        });
      }
    } finally {
      busy = false;
    }
  }, sendEvery);
  return () => {
    over = true;
    clearInterval(timer);
  };
}

/** Keeps the screen on: a phone that sleeps senses nothing. */
function useAwake(on: boolean) {
  useEffect(() => {
    if (!on || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | undefined;
    let left = false;
    void navigator.wakeLock
      .request("screen")
      .then((l) => {
        if (left) void l.release();
        else lock = l;
      })
      .catch(() => undefined);
    return () => {
      left = true;
      void lock?.release();
    };
  }, [on]);
}
