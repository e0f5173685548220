import { createStore, del, entries, set } from "idb-keyval";
import { useEffect, useMemo, useSyncExternalStore } from "react";
import { api, onBehalfOf, Refused, reason, take, Unreachable } from "../api/client";
import type { components } from "../api/schema";
import { due, fresh, inVain, next, order, place, type Waiting } from "./queue";
import { person, usePerson } from "./who";

type Schemas = components["schemas"];

const box = createStore("zorvel-outbox", "waiting");
const none: Waiting[] = [];
let waiting: Waiting[] = none;
let trouble: "away" | "signed_out" | undefined;
let signedIn: number | undefined;
let ready: Promise<void> | undefined;
const listeners = new Set<() => void>();
const sent = new Set<(w: Waiting, answer: unknown) => void>();
const others = "BroadcastChannel" in window ? new BroadcastChannel("zorvel-outbox") : undefined;

function tell(list: Waiting[]) {
  waiting = list.length ? list : none;
  for (const l of listeners) l();
}

/** Readings of a version before this waited elsewhere on this device. */
async function takeOver() {
  for (const name of Object.keys(localStorage)) {
    const stage = /^zorvel\.stage\.(\d+)\.waiting$/.exec(name)?.[1];
    if (!stage) continue;
    for (const r of JSON.parse(localStorage.getItem(name) ?? "[]") as Former[])
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
    localStorage.removeItem(name);
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

function post(w: Waiting): Promise<unknown> {
  const p = w.post;
  const headers = onBehalfOf(w.person);
  switch (p.to) {
    case "reading":
      return take(
        api.POST("/stages/{id}/readings", {
          params: { path: { id: p.stage } },
          body: { since: p.since, readings: [p.reading] },
          headers,
        }),
      );
    case "step":
      return take(api.POST("/card-runs/{id}/entries", { params: { path: { id: p.run } }, body: p.entry, headers }));
    case "line":
      return take(api.POST("/jobs/{id}/entries", { params: { path: { id: p.job } }, body: p.line, headers }));
    case "photo":
      return take(api.POST("/units/{id}/photos", { params: { path: { id: p.unit } }, body: p.photo, headers }));
  }
}

/** The server was not reached, or not able: it is tried again. */
const later = (e: unknown) =>
  e instanceof Unreachable || !(e instanceof Refused) || e.status >= 500 || e.status === 429 || e.status === 408;

/** Who waits for an answer to what they entered just now. */
const asking = new Map<string, { done: (answer: unknown) => void; refused: (e: unknown) => void }>();

/** Whether nothing at all can be reached: then it isn't the fault of what was sent. */
const away = () =>
  take(api.GET("/session")).then(
    () => false,
    (e) => e instanceof Unreachable,
  );

async function sendAll() {
  await load();
  trouble = undefined;
  const held = new Set<string>();
  for (;;) {
    const w = next(waiting, { person: signedIn, now: Date.now(), held, asked: asking });
    if (!w) break;
    try {
      const answer = await post(w);
      await drop(w.key);
      for (const f of sent) f(w, answer);
      asking.get(w.key)?.done(answer);
      asking.delete(w.key);
    } catch (e) {
      if (e instanceof Unreachable && (await away())) {
        trouble = "away";
        break;
      }
      if (later(e)) {
        held.add(place(w.post));
        await put(inVain(w, reason(e), Date.now()));
        asking.get(w.key)?.done(undefined);
        asking.delete(w.key);
        continue;
      }
      if (e instanceof Refused && (e.status === 401 || e.someoneElses)) {
        trouble = "signed_out"; // or someone else is signed in by now
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

export type Entry = Pick<Waiting, "key" | "says" | "post">;

/** Puts something into the box. It is safe on this device when the promise is kept, and goes out by itself. */
export async function enter(w: Entry) {
  await put({ ...w, at: new Date().toISOString(), person: person.get(), page: location.pathname });
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

/** Tries again what was refused, or did not go out. */
export async function retry(w: Waiting) {
  await put(fresh(w));
  void send();
}

/** Makes something that was entered before anyone signed in the person's who is signed in now. */
export async function claim(w: Waiting) {
  if (signedIn) await retry({ ...w, person: signedIn });
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
    signedIn = id;
    ready ??= takeOver()
      .catch(() => undefined)
      .then(load);
    void ready.then(send);
    const now = () => void send();
    const timer = setInterval(() => {
      if (waiting.some((w) => due(w, signedIn, Date.now()))) now();
    }, every);
    const online = () => {
      for (const w of waiting) w.next = undefined;
      now();
    };
    const changed = () => void load();
    window.addEventListener("online", online);
    others?.addEventListener("message", changed);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", online);
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

/** What waits here of the person this page works for: another's is not theirs to see. */
export function useOwnWaiting() {
  const list = useWaiting();
  const who = usePerson();
  return useMemo(() => list.filter((w) => w.person === who || w.person === 0), [list, who]);
}

/** Why nothing goes out just now. */
export const useTrouble = () => useSyncExternalStore(subscribe, () => trouble);
