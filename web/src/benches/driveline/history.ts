import { useCallback, useState } from "react";

/** A value with its past and future. */
type Past<T> = { past: T[]; now: T; future: T[] };

export function useHistory<T>(start: T) {
  const [h, set] = useState<Past<T>>({ past: [], now: start, future: [] });
  const put = useCallback((next: T | ((old: T) => T)) => {
    set((o) => {
      const now = typeof next === "function" ? (next as (old: T) => T)(o.now) : next;
      return now === o.now ? o : { past: [...o.past.slice(-99), o.now], now, future: [] };
    });
  }, []);
  const undo = useCallback(() => {
    set((o) => {
      const now = o.past.at(-1);
      return now === undefined ? o : { past: o.past.slice(0, -1), now, future: [o.now, ...o.future] };
    });
  }, []);
  const redo = useCallback(() => {
    set((o) => {
      const [now, ...future] = o.future;
      return now === undefined ? o : { past: [...o.past, o.now], now, future };
    });
  }, []);
  return { now: h.now, put, undo, redo, canUndo: h.past.length > 0, canRedo: h.future.length > 0 };
}
