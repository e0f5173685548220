import { createStore, del, entries, set } from "idb-keyval";
import { useEffect, useSyncExternalStore } from "react";
import { api, Refused, reason, take, Unreachable } from "../api/client";
import type { components } from "../api/schema";
import { keep, kept } from "./local";

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
  /** Who entered it: only they send it. */
  person: number;
  /** What it is, for who looks at what waits. */
  says: string;
  /** Where it was entered. */
  page: string;
  post: Post;
  /** Why the server would not have it. */
  refused?: string;
};

const box = createStore("zorvel-outbox", "waiting");
const none: Waiting[] = [];
let waiting: Waiting[] = none;
let trouble: "away" | "signed_out" | undefined;
let person: number | undefined;
let ready: Promise<void> | undefined;
const listeners = new Set<() => void>();
const sent = new Set<(w: Waiting, answer: unknown) => void>();
const others = "BroadcastChannel" in window ? new BroadcastChannel("zorvel-outbox") : undefined;

const order = (a: Waiting, b: Waiting) => (a.at < b.at ? -1 : a.at > b.at ? 1 : a.key < b.key ? -1 : 1);

function tell(list: Waiting[]) {
  waiting = list.length ? list : none;
  for (const l of listeners) l();
}

/** Readings of a version before this waited elsewhere on this device. */
async function takeOver() {
  for (const name of Object.keys(localStorage)) {
    const stage = /^zorvel\.stage\.(\d+)\.waiting$/.exec(name)?.[1];
    if (!stage) continue;
    for (const r of kept<Former[]>(name, []))
      await put({
        key: r.key,
        at: r.at,
        person: 0,
        says: r.summary ?? "a reading",
        page: `/stages/${stage}`,
        post: {
          to: "reading",
          stage: Number(stage),
          since: r.since ?? 0,
          reading: { key: r.key, reading: r.reading, note: r.note, blind: r.blind },
        },
        refused: r.refused,
      });
    keep(name, undefined);
  }
}

type Former = Schemas["NewReading"] & { key: string; at: string; summary?: string; since?: number; refused?: string };

async function load() {
  const all = await entries<string, Waiting>(box).catch(() => []);
  const kept = new Set(all.map(([k]) => k));
  // What this page has and storage refused to keep stays as long as the page does.
  const here = waiting.filter((w) => !kept.has(w.key) && unkept.has(w.key));
  tell([...all.map(([, w]) => w), ...here].sort(order));
}

/** What storage does not have yet, or would not take (a private window, a full disk): kept in this page alone. */
const unkept = new Set<string>();

async function put(w: Waiting) {
  unkept.add(w.key);
  tell([...waiting.filter((x) => x.key !== w.key), w].sort(order));
  try {
    await set(w.key, w, box);
    unkept.delete(w.key);
  } catch {
    // See unkept.
  }
  others?.postMessage("changed");
}

async function drop(key: string) {
  unkept.delete(key);
  await del(key, box).catch(() => undefined);
  tell(waiting.filter((w) => w.key !== key));
  others?.postMessage("changed");
}

function post(p: Post): Promise<unknown> {
  switch (p.to) {
    case "reading":
      return take(
        api.POST("/stages/{id}/readings", {
          params: { path: { id: p.stage } },
          body: { since: p.since, readings: [p.reading] },
        }),
      );
    case "step":
      return take(api.POST("/card-runs/{id}/entries", { params: { path: { id: p.run } }, body: p.entry }));
    case "line":
      return take(api.POST("/jobs/{id}/entries", { params: { path: { id: p.job } }, body: p.line }));
    case "photo":
      return take(api.POST("/units/{id}/photos", { params: { path: { id: p.unit } }, body: p.photo }));
  }
}

/** The server was not reached, or not able: it is tried again. */
const later = (e: unknown) =>
  e instanceof Unreachable || !(e instanceof Refused) || e.status >= 500 || e.status === 429 || e.status === 408;

/** Who waits for an answer to what they entered just now. */
const asking = new Map<string, { done: (answer: unknown) => void; refused: (e: unknown) => void }>();

/** Entered by the person who is signed in, or on this device before that was known. */
const own = (w: Waiting) => person !== undefined && (w.person === person || w.person === 0);

async function sendAll() {
  await load();
  trouble = undefined;
  for (;;) {
    const w = waiting.find((x) => own(x) && !x.refused);
    if (!w) break;
    try {
      const answer = await post(w.post);
      await drop(w.key);
      for (const f of sent) f(w, answer);
      asking.get(w.key)?.done(answer);
      asking.delete(w.key);
    } catch (e) {
      if (later(e)) {
        trouble = "away";
        break;
      }
      if (e instanceof Refused && e.status === 401) {
        trouble = "signed_out";
        break;
      }
      const here = asking.get(w.key);
      if (here) {
        // The form that it came from still has it, and says what is wrong.
        asking.delete(w.key);
        await drop(w.key);
        here.refused(e);
      } else await put({ ...w, refused: reason(e) });
    }
  }
  for (const [key, a] of asking) {
    asking.delete(key);
    a.done(undefined);
  }
  tell([...waiting]);
}

let sending = false;
let again = false;

/** Sends what waits; one page of this device at a time. */
async function send() {
  if (sending) {
    again = true;
    return;
  }
  sending = true;
  try {
    do {
      again = false;
      if (navigator.locks) await navigator.locks.request("zorvel-outbox", sendAll);
      else await sendAll();
    } while (again);
  } finally {
    sending = false;
  }
}

export type Entry = Omit<Waiting, "at" | "person" | "page">;

/** Puts something into the box. It is safe on this device when the promise is kept, and goes out by itself. */
export async function enter(w: Entry) {
  await put({ ...w, at: new Date().toISOString(), person: person ?? 0, page: location.pathname });
  void send();
}

/**
 * Puts something into the box and waits for what the server says: the answer, or
 * nothing where it waits on this device now. What the server would not have is not
 * kept: whoever asked still has it.
 */
export async function submit<T>(w: Entry): Promise<T | undefined> {
  const answer = new Promise<unknown>((done, refused) => asking.set(w.key, { done, refused }));
  await enter(w);
  return (await answer) as T | undefined;
}

/** Takes something back that was not sent yet. */
export const takeBack = drop;

/** Tries again what was refused. */
export async function retry(w: Waiting) {
  await put({ ...w, refused: undefined });
  void send();
}

/** Called with what was sent and what the server said to it. */
export function onSent(f: (w: Waiting, answer: unknown) => void) {
  sent.add(f);
  return () => void sent.delete(f);
}

const every = 4_000;

/** Sends for a person for as long as the application runs. */
export function useSending(id: number | undefined) {
  useEffect(() => {
    person = id;
    ready ??= takeOver()
      .catch(() => undefined)
      .then(load);
    void ready.then(send);
    const now = () => void send();
    const timer = setInterval(() => {
      if (waiting.some((w) => own(w) && !w.refused)) now();
    }, every);
    const changed = () => void load();
    window.addEventListener("online", now);
    others?.addEventListener("message", changed);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", now);
      others?.removeEventListener("message", changed);
    };
  }, [id]);
}

const subscribe = (l: () => void) => {
  listeners.add(l);
  return () => listeners.delete(l);
};

/** What waits on this device, oldest first. */
export const useWaiting = () => useSyncExternalStore(subscribe, () => waiting);

/** Why nothing goes out just now. */
export const useTrouble = () => useSyncExternalStore(subscribe, () => trouble);
