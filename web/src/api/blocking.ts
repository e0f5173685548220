import { Refused } from "./client";

interface Asked {
  data?: unknown;
  error: Error | null;
}

/**
 * What keeps a page from being shown. Where an answer is there already, a later one that failed by the moment (the
 * server is busy, the database away) leaves it and what was typed beside it; only rights and what is gone take it off.
 */
export function blocking(...asked: Asked[]): Error | null {
  for (const q of asked) {
    if (!q.error) continue;
    const lasting = q.error instanceof Refused && [401, 403, 404].includes(q.error.status);
    if (lasting || q.data === undefined) return q.error;
  }
  return null;
}
