import { Alert, Button } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, reason, take } from "../api/client";
import { askAnew } from "../api/keys";
import { day } from "../format/numbers";
import { type ExperienceShop, holds } from "./experience";
import classes from "./files.module.css";

/** The shops whose experience weighs here, and the way to be without one of them. */
export function ShopsOfExperience({ shops, owner }: { shops: ExperienceShop[]; owner: boolean }) {
  const client = useQueryClient();
  const drop = useMutation({
    mutationFn: (id: number) => take(api.DELETE("/experience/{id}", { params: { path: { id } } })),
    onSuccess: () => askAnew(client, "everything"),
  });
  if (shops.length === 0)
    return (
      <section className={classes.section}>
        <h2>Shops</h2>
        <p>No other shop's experience is here. Typical odds of the trade are used.</p>
      </section>
    );
  return (
    <section className={classes.section}>
      <h2>Shops</h2>
      {drop.error && (
        <Alert color="red" title="Not removed" role="alert">
          {reason(drop.error)}
        </Alert>
      )}
      <div className="scroll">
        <table className="figures">
          <thead>
            <tr>
              <th scope="col">Shop</th>
              <th scope="col">What it found</th>
              <th scope="col">Imported</th>
              {owner && <th scope="col">File</th>}
            </tr>
          </thead>
          <tbody>
            {shops.map((s) => (
              <tr key={s.id}>
                <th scope="row">{s.name}</th>
                <td>{holds(s)}</td>
                <td>
                  {s.at && day(s.at)} by {s.by}
                </td>
                {owner && (
                  <td>
                    <a href={`/api/v1/experience/${s.id}/file`} download={`${s.name}.json`}>
                      Export
                    </a>{" "}
                    <Button
                      variant="subtle"
                      size="compact-sm"
                      color="red"
                      aria-label={`Remove ${s.name}`}
                      loading={drop.isPending && drop.variables === s.id}
                      onClick={() => drop.mutate(s.id)}
                    >
                      Remove
                    </Button>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
