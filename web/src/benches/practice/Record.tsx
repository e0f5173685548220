import { Button, Switch, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type PracticeResult, take } from "../../api/client";
import { key } from "../../api/keys";
import { useSession } from "../../app/session";
import classes from "./practice.module.css";
import { useOwnPractice } from "./results";

type Props = { results: { results: PracticeResult[]; day: number } };

/** Whose the results are, who sees them, and the certificate. */
export function Record({ results }: Props) {
  const person = useSession().data?.person;
  return (
    <section aria-labelledby="record">
      <h2 id="record">Your results</h2>
      {person ? <Own name={person.name} owner={person.role === "owner"} /> : <OnDevice results={results} />}
    </section>
  );
}

function Own({ name, owner }: { name: string; owner: boolean }) {
  const client = useQueryClient();
  const own = useOwnPractice().data;
  const share = useMutation({
    mutationFn: (shared: boolean) => take(api.PUT("/practice/sharing", { body: { shared } })),
    onSuccess: () => client.invalidateQueries({ queryKey: key.practice("own") }),
  });
  return (
    <div className={classes.record}>
      <p>Saved with {name}'s account. Nobody else sees it unless you share it.</p>
      <Switch
        label="The owner sees how far I am"
        checked={own?.shared ?? false}
        disabled={!own || share.isPending}
        onChange={(e) => share.mutate(e.currentTarget.checked)}
      />
      <div className={classes.row}>
        <Button component="a" href="/api/v1/practice/certificate" target="_blank" rel="noreferrer" variant="default">
          Certificate
        </Button>
        <Button component="a" href="/api/v1/practice" download="practice.json" variant="default">
          Save as a file
        </Button>
        {owner && (
          <Button component={Link} to="/practice/class" variant="default">
            The class
          </Button>
        )}
      </div>
    </div>
  );
}

/** Without an account the results stay here; the certificate says so. */
function OnDevice({ results }: Props) {
  const [name, setName] = useState("");
  const sheet = useMutation({
    mutationFn: () => take(api.POST("/calc/practice/certificate", { body: { name, results }, parseAs: "blob" })),
    onSuccess: (b) => window.open(URL.createObjectURL(b as unknown as Blob)),
  });
  return (
    <div className={classes.record}>
      <p>Saved on this device. Sign in, and your results go along.</p>
      <form
        className={classes.row}
        onSubmit={(e) => {
          e.preventDefault();
          sheet.mutate();
        }}
      >
        <TextInput
          label="Your name, for the certificate"
          value={name}
          maxLength={80}
          onChange={(e) => setName(e.currentTarget.value)}
          error={sheet.error?.message}
        />
        <Button type="submit" variant="default" disabled={name.trim() === ""} loading={sheet.isPending}>
          Certificate
        </Button>
        <Button
          component="a"
          href={`data:application/json,${encodeURIComponent(JSON.stringify(results))}`}
          download="practice.json"
          variant="default"
        >
          Save as a file
        </Button>
      </form>
    </div>
  );
}
