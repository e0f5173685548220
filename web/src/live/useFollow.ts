import { useEffect, useState } from "react";
import type { LiveState } from "../api/client";

/**
 * A live count as it changes. The browser connects again by itself; a state that is older than the one shown, by its
 * revision, is left out.
 */
export function useFollow(id: number | undefined): { state?: LiveState; lost: boolean } {
  const [state, setState] = useState<LiveState>();
  const [lost, setLost] = useState(false);
  useEffect(() => {
    setState(undefined);
    if (id === undefined) return;
    const events = new EventSource(`/api/v1/live/${id}/events`);
    events.onopen = () => setLost(false);
    events.onerror = () => setLost(true);
    events.onmessage = (e) => {
      const next = JSON.parse(e.data) as LiveState;
      setLost(false);
      setState((old) => (old && old.id === next.id && old.revision > next.revision ? old : next));
      if (next.ended) events.close();
    };
    return () => events.close();
  }, [id]);
  return { state, lost };
}
