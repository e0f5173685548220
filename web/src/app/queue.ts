import type { components } from "../api/schema";

type Schemas = components["schemas"];

/** What can wait on this device: each has a key of its own, so that sending it twice keeps it once. */
export type Post =
  | { to: "reading"; stage: number; since: number; reading: Schemas["NewReading"] }
  | { to: "step"; run: number; entry: Schemas["NewCardEntry"] }
  | { to: "line"; job: number; line: Schemas["NewWork"] }
  | { to: "photo"; unit: number; photo: Schemas["NewPhoto"] };

export type Waiting = {
  key: string;
  /** In the order in which it was entered. */
  at: string;
  /** Who entered it: only they send it. 0 is nobody who had signed in here yet. */
  person: number;
  /** What it is, for who looks at what waits. */
  says: string;
  /** Where it was entered. */
  page: string;
  post: Post;
  /** Why the server would not have it. */
  refused?: string;
  /** How often it was tried in vain, why, and when it is tried next. */
  tries?: number;
  because?: string;
  next?: number;
};

/** After so many tries it is said that something does not go out; it is still tried. */
export const toldAfter = 3;

/** In the order in which it was entered. */
export const order = (a: Waiting, b: Waiting) => (a.at < b.at ? -1 : a.at > b.at ? 1 : a.key < b.key ? -1 : 1);

/** Where it goes: what goes to one place goes in the order in which it was entered. */
export function place(p: Post): string {
  switch (p.to) {
    case "reading":
      return `stage ${p.stage}`;
    case "step":
      return `run ${p.run}`;
    case "line":
      return `job ${p.job}`;
    case "photo":
      return `photo ${p.photo.key}`; // each by itself: a large one holds up nothing
  }
}

/** Whether the person who is signed in entered it, and the server would have it. */
const sendable = (w: Waiting, person: number | undefined) => person !== undefined && w.person === person && !w.refused;

/** What has waited long enough since it was tried in vain. */
export const due = (w: Waiting, person: number | undefined, now: number) => sendable(w, person) && (w.next ?? 0) <= now;

type Now = {
  /** Who is signed in. */
  person: number | undefined;
  now: number;
  /** Places that were tried in vain just now. */
  held: ReadonlySet<string>;
  /** Keys for whose answer someone waits: nothing before them at their place waits for its time. */
  asked: { has(key: string): boolean };
};

/** What is sent next, of a box in order: what waits longest for its place, where that is due. */
export function next(box: Waiting[], { person, now, held, asked }: Now): Waiting | undefined {
  const first = new Map<string, Waiting>();
  const hurried = new Set<string>();
  for (const w of box) {
    const at = place(w.post);
    if (sendable(w, person) && !first.has(at)) first.set(at, w);
    if (asked.has(w.key)) hurried.add(at);
  }
  return [...first].find(([at, w]) => !held.has(at) && (due(w, person, now) || hurried.has(at)))?.[1];
}

/** Until the next try: longer each time, up to five minutes. */
const pause = (tries: number) => Math.min(4_000 * 2 ** Math.min(tries - 1, 10), 300_000);

/** As it waits on after a try in vain. */
export function inVain(w: Waiting, because: string, now: number): Waiting {
  const tries = (w.tries ?? 0) + 1;
  return { ...w, tries, because, next: now + pause(tries) };
}

/** As if it had never been tried. */
export const fresh = (w: Waiting): Waiting => ({
  ...w,
  refused: undefined,
  tries: undefined,
  because: undefined,
  next: undefined,
});
