import { useEffect, useState } from "react";
import type { LiveState } from "../api/client";

const again = 5000; // milliseconds before a refused connection is asked for again

/**
 * A live count as it changes. The browser connects again by itself where the line breaks; where it was refused, because too
 * many follow, this asks again. A state that is older than the one shown, by its revision, is left out.
 */
export function useFollow(id: number | undefined): { state?: LiveState; lost: boolean } {
  const [state, setState] = useState<LiveState>();
  const [lost, setLost] = useState(false);
  useEffect(() => {
    setState(undefined);
    if (id === undefined) return;
    let events: EventSource;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const follow = () => {
      events = new EventSource(`/api/v1/live/${id}/events`);
      events.onopen = () => setLost(false);
      events.onerror = () => {
        setLost(true);
        if (events.readyState === EventSource.CLOSED) timer = setTimeout(follow, again);
      };
      events.onmessage = (e) => {
        const next = JSON.parse(e.data) as LiveState;
        setLost(false);
        setState((old) => (old && old.id === next.id && old.revision > next.revision ? old : next));
        if (next.ended) events.close();
      };
    };
    follow();
    return () => {
      clearTimeout(timer);
      events.close();
    };
  }, [id]);
  return { state, lost };
}
