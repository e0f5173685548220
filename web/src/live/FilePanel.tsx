import { Alert } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { api, reason, take } from "../api/client";
import type { FieldsProps } from "../benches/identify/methods/method";
import { atAxle } from "../benches/identify/methods/method";
import { FileButton } from "../fields/FileButton";
import { Turned } from "./Turned";

/** Longest file that is weighed, in letters. */
const mostLong = 15_000_000;

/** A recorded file of marks, angles or a phone's motion. */
export function FilePanel(p: FieldsProps) {
  const weigh = useMutation({
    mutationFn: async (csv: string) => {
      if (csv.length > mostLong) throw new Error("This file is too long: 15 MB at most. Cut it.");
      return take(
        api.POST("/calc/live", { body: { recording: { sources: [], other: { does: "held", seen: false } }, csv } }),
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
        <FileButton
          name="Recorded count"
          accept=".csv,text/csv"
          variant="default"
          loading={weigh.isPending}
          onText={(text) => weigh.mutate(text)}
        >
          Choose a file
        </FileButton>
      </div>
      {weigh.error && <Alert color="red">{reason(weigh.error)}</Alert>}
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
