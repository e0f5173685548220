import { Alert, Button, FileButton } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { api, take } from "../api/client";
import type { FieldsProps } from "../benches/identify/methods/method";
import { atAxle } from "../benches/identify/methods/method";
import { Turned } from "./Turned";

/** Longest file that is weighed, in bytes. */
const mostBytes = 15_000_000;

/** A recorded file of marks, angles or a phone's motion. */
export function FilePanel(p: FieldsProps) {
  const weigh = useMutation({
    mutationFn: async (f: File) => {
      if (f.size > mostBytes)
        throw new Error("This file is longer than can be weighed at once: 15 MB at most. Cut it.");
      return take(
        api.POST("/calc/live", {
          body: { recording: { sources: [], other: { does: "held", seen: false } }, csv: await f.text() },
        }),
      );
    },
    onSuccess: (told) => p.set({ live: told.reading }),
  });
  const told = weigh.data;
  return (
    <div className="stack">
      <p>
        A file of marks that passed (shaft, seconds, marks, way), of angles, or of a phone's motion. Saved counts come
        back this way.
      </p>
      <div>
        <FileButton onChange={(f) => f && weigh.mutate(f)} accept=".csv,text/csv">
          {(props) => (
            <Button {...props} variant="default" loading={weigh.isPending}>
              Choose a file
            </Button>
          )}
        </FileButton>
      </div>
      {weigh.error && <Alert color="red">{weigh.error.message}</Alert>}
      {told && (
        <Turned
          answer={told.live}
          atAxle={atAxle(p.question.kind)}
          verdict={p.draft.live && !p.blind ? p.verdict : undefined}
          blind={p.blind}
        />
      )}
    </div>
  );
}
