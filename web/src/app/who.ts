import { useSyncExternalStore } from "react";

/**
 * Whom this page works for, by the number of the account; 0 is nobody. What is typed
 * and what waits belongs to them. Between the start and the server's word it is who
 * was signed in here last.
 */
const store = "zorvel.person";

function last(): number {
  try {
    return Number(localStorage.getItem(store)) || 0;
  } catch {
    return 0; // a private window
  }
}

let who = last();
const watchers = new Set<() => void>();

export const person = {
  get: () => who,
  set: (id: number) => {
    if (id === who) return;
    who = id;
    try {
      if (id) localStorage.setItem(store, String(id));
      else localStorage.removeItem(store);
    } catch {
      // See last.
    }
    for (const w of watchers) w();
  },
};

const watch = (w: () => void) => {
  watchers.add(w);
  return () => void watchers.delete(w);
};

/** The number of the person this page works for. */
export const usePerson = () => useSyncExternalStore(watch, person.get);
