import { Alert } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, take } from "../api/client";
import { key } from "../api/keys";

/** Units that could not be read when the list was made; told to the owner alone. */
export function SetAside() {
  const filters = useQuery({ queryKey: key.units("filters"), queryFn: () => take(api.GET("/filters")) });
  const aside = filters.data?.aside ?? [];
  if (aside.length === 0) return null;
  const one = aside.length === 1;
  return (
    <Alert color="brass" className="waiting" role="status">
      <b>{one ? "One unit can't be read." : `${aside.length} units can't be read.`}</b>{" "}
      {one ? "You can find it by name only." : "You can find them by name only."} Nothing is lost. Open{" "}
      {one ? "it" : "each"} to see what is wrong:
      {aside.map((u) => (
        <div key={u.id}>
          <Link to={`/units/${u.id}`}>{u.name}</Link>: {u.why}
        </div>
      ))}
    </Alert>
  );
}
