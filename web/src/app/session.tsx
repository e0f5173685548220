import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, personHere, type Session, take } from "../api/client";
import { key } from "../api/keys";
import { takeAlong } from "./local";
import { person } from "./who";

export function useSession() {
  return useQuery({ queryKey: key.session(), queryFn: () => take(api.GET("/session")), staleTime: 60_000 });
}

/** Whether the signed-in person may save. */
export function useMaySave(): boolean {
  const role = useSession().data?.person?.role;
  return role === "owner" || role === "technician";
}

const others = "BroadcastChannel" in window ? new BroadcastChannel("zorvel-session") : undefined;

/** The page works for another person from here on: nothing of the one before stays in sight. */
function change(client: QueryClient, id: number) {
  if (id === person.get()) return;
  if (id && person.get() === 0) takeAlong(id);
  client.removeQueries({ predicate: (q) => q.queryKey[0] !== "session" });
  person.set(id);
}

export function useSetSession() {
  const client = useQueryClient();
  return (s: Session) => {
    if (s.person) change(client, s.person.id);
    client.setQueryData(key.session(), s);
    void client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "session" });
    others?.postMessage("changed");
  };
}

/** Ends the session, here and in the other pages of this device. */
export function useSignOut() {
  const client = useQueryClient();
  return async () => {
    await take(api.DELETE("/session"));
    others?.postMessage("out");
    change(client, 0);
    await client.invalidateQueries({ queryKey: key.session() });
  };
}

/** Follows who is signed in: here, in another page of this device, or when a page comes back. */
export function useFollowSession() {
  const client = useQueryClient();
  const s = useSession().data;
  // Whose session ran out is whose page it stays: what they type waits for them. Someone else who signs in begins anew.
  useEffect(() => {
    if (s?.person) change(client, s.person.id);
  }, [client, s]);
  useEffect(() => {
    const ask = () => void client.invalidateQueries({ queryKey: key.session() });
    // A page that the browser kept whole shows what someone else may not see any more.
    const back = (e: PageTransitionEvent) => e.persisted && location.reload();
    const stop = personHere.watch(ask);
    const told = (e: MessageEvent) => {
      if (e.data === "out") change(client, 0);
      ask();
    };
    others?.addEventListener("message", told);
    window.addEventListener("pageshow", back);
    return () => {
      stop();
      others?.removeEventListener("message", told);
      window.removeEventListener("pageshow", back);
    };
  }, [client]);
}
