import { useCallback, useSyncExternalStore } from "react";

/** Values kept on this device; they survive a reload and a lost connection. */
const listeners = new Map<string, Set<() => void>>();
const cache = new Map<string, { raw: string | null; value: unknown }>();

function read<T>(key: string, fallback: T): T {
  let raw: string | null = null;
  try {
    raw = localStorage.getItem(key);
  } catch {
    // Private windows may refuse storage: then values live in the cache only.
    return (cache.get(key)?.value as T | undefined) ?? fallback;
  }
  const hit = cache.get(key);
  if (hit && hit.raw === raw) return hit.value as T;
  let value: unknown = fallback;
  if (raw !== null) {
    try {
      value = JSON.parse(raw);
    } catch {
      value = fallback;
    }
  }
  cache.set(key, { raw, value });
  return value as T;
}

export function keep<T>(key: string, value: T | undefined) {
  const raw = value === undefined ? null : JSON.stringify(value);
  if (cache.get(key)?.raw === raw && raw !== null) return;
  try {
    if (raw === null) localStorage.removeItem(key);
    else localStorage.setItem(key, raw);
  } catch {
    // See read.
  }
  if (raw === null) cache.delete(key);
  else cache.set(key, { raw, value });
  for (const l of listeners.get(key) ?? []) l();
}

export function kept<T>(key: string, fallback: T): T {
  return read(key, fallback);
}

/** State kept under a key. fallback must be a constant. */
export function useKept<T>(key: string, fallback: T): [T, (next: T | ((old: T) => T)) => void] {
  const value = useSyncExternalStore(
    useCallback(
      (l) => {
        let set = listeners.get(key);
        if (!set) {
          set = new Set();
          listeners.set(key, set);
        }
        set.add(l);
        return () => set.delete(l);
      },
      [key],
    ),
    () => read(key, fallback),
  );
  const put = useCallback(
    (next: T | ((old: T) => T)) => {
      keep(key, typeof next === "function" ? (next as (old: T) => T)(read(key, fallback)) : next);
    },
    [key, fallback],
  );
  return [value, put];
}
