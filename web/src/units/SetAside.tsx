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
  return (
    <Alert color="orange" title={aside.length === 1 ? "One unit can't be read" : `${aside.length} units can't be read`}>
      <p>They are found by their names only. Nothing of them is lost; open each and see what is wrong.</p>
      <ul>
        {aside.map((u) => (
          <li key={u.id}>
            <Link to={`/units/${u.id}`}>{u.name}</Link>: {u.why}
          </li>
        ))}
      </ul>
    </Alert>
  );
}
