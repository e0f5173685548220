import { useCallback, useSyncExternalStore } from "react";
import { person, usePerson } from "./who";

/** Values kept on this device; they survive a reload and a lost connection. */
const listeners = new Map<string, Set<() => void>>();
const cache = new Map<string, { raw: string | null; value: unknown }>();

/** What is the device's, whoever uses it; all else is the person's who typed it. */
const ofTheDevice = new Set(["zorvel.units", "zorvel.units.asked", "zorvel.visit", "zorvel.person"]);

/** Lists that go on with a person's own when he signs in, and don't give way to them. */
const joined = new Set(["zorvel.practice.done"]);

/** What a version before this had waiting there: the box takes it over, see outbox. */
const waited = (key: string) => key.endsWith(".waiting");

/** Where a value of a person lies. Nobody's lie under their plain names. */
const place = (key: string, of: number) => (of === 0 || ofTheDevice.has(key) ? key : `p${of}/${key}`);

function read<T>(at: string, fallback: T): T {
  let raw: string | null = null;
  try {
    raw = localStorage.getItem(at);
  } catch {
    // Private windows may refuse storage: then values live in the cache only.
    return (cache.get(at)?.value as T | undefined) ?? fallback;
  }
  const hit = cache.get(at);
  if (hit && hit.raw === raw) return hit.value as T;
  let value: unknown = fallback;
  if (raw !== null) {
    try {
      value = JSON.parse(raw);
    } catch {
      value = fallback;
    }
  }
  cache.set(at, { raw, value });
  return value as T;
}

function write<T>(at: string, value: T | undefined) {
  const raw = value === undefined ? null : JSON.stringify(value);
  if (cache.get(at)?.raw === raw && raw !== null) return;
  try {
    if (raw === null) localStorage.removeItem(at);
    else localStorage.setItem(at, raw);
  } catch {
    // See read.
  }
  if (raw === null) cache.delete(at);
  else cache.set(at, { raw, value });
  for (const l of listeners.get(at) ?? []) l();
}

export function keep<T>(key: string, value: T | undefined) {
  write(place(key, person.get()), value);
}

export function kept<T>(key: string, fallback: T): T {
  return read(place(key, person.get()), fallback);
}

/**
 * Takes along what was typed before someone signed in: it becomes theirs where they
 * have nothing under the same name, so that the next person finds nobody's empty.
 */
export function takeAlong(to: number) {
  try {
    const theirs = (k: string) => k.startsWith("zorvel.") && !ofTheDevice.has(k) && !waited(k);
    for (const k of Object.keys(localStorage).filter(theirs)) {
      const raw = localStorage.getItem(k);
      const own = localStorage.getItem(place(k, to));
      if (raw !== null && own === null) localStorage.setItem(place(k, to), raw);
      else if (raw !== null && own !== null && joined.has(k)) {
        localStorage.setItem(place(k, to), JSON.stringify([...JSON.parse(own), ...JSON.parse(raw)]));
      }
      localStorage.removeItem(k);
      cache.delete(k);
    }
  } catch {
    // See read.
  }
}

/** State kept under a key. fallback must be a constant. */
export function useKept<T>(key: string, fallback: T): [T, (next: T | ((old: T) => T)) => void] {
  const at = place(key, usePerson());
  const value = useSyncExternalStore(
    useCallback(
      (l) => {
        let set = listeners.get(at);
        if (!set) {
          set = new Set();
          listeners.set(at, set);
        }
        set.add(l);
        return () => set.delete(l);
      },
      [at],
    ),
    () => read(at, fallback),
  );
  const put = useCallback(
    (next: T | ((old: T) => T)) => {
      write(at, typeof next === "function" ? (next as (old: T) => T)(read(at, fallback)) : next);
    },
    [at, fallback],
  );
  return [value, put];
}
