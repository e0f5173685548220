import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Session, take } from "../api/client";
import { key } from "../api/keys";

export function useSession() {
  return useQuery({ queryKey: key.session(), queryFn: () => take(api.GET("/session")), staleTime: 60_000 });
}

/** Whether the signed-in person may save. */
export function useMaySave(): boolean {
  const role = useSession().data?.person?.role;
  return role === "owner" || role === "technician";
}

export function useSetSession() {
  const client = useQueryClient();
  return (s: Session) => {
    client.setQueryData(key.session(), s);
    void client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "session" });
  };
}
