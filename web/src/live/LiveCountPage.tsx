import { Button, Loader, Slider } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, type LiveRecording, take } from "../api/client";
import { key } from "../api/keys";
import { Band } from "../app/Band";
import { useTitle } from "../app/title";
import { fixed, when } from "../format/numbers";
import { span, until } from "./recording";
import { Turned } from "./Turned";

/** A count that was kept: looked at again, moment by moment, and weighed anew up to each. */
export function LiveCountPage() {
  const id = Number(useParams().id);
  const params = { params: { path: { id } } };
  const state = useQuery({ queryKey: key.live(id), queryFn: () => take(api.GET("/live/{id}", params)) });
  const rec = useQuery({
    queryKey: key.liveRecording(id),
    queryFn: () => take(api.GET("/live/{id}/recording", params)),
    staleTime: Number.POSITIVE_INFINITY,
  });
  useTitle(state.data?.title ?? "Live count");
  const error = state.error ?? rec.error;
  return (
    <>
      <Band>
        <div className="grow">
          <h1>{state.data?.title ?? "Live count"}</h1>
          {state.data && (
            <span>
              {state.data.by}, {when(state.data.at)}
            </span>
          )}
        </div>
        <Button
          component="a"
          variant="default"
          href={`/api/v1/live/${id}/recording.csv`}
          download={`live-count-${id}.csv`}
        >
          Save as a file
        </Button>
      </Band>
      <main id="main" className="page">
        {error && <p className="trouble">{error.message}</p>}
        {!error && (!state.data || !rec.data) && <Loader m="xl" />}
        {state.data && rec.data && (
          <Replay recording={rec.data} atAxle={state.data.setup.channels.every((c) => c.shaft !== "output")} />
        )}
      </main>
    </>
  );
}

/** The recording up to a moment that the slider sets. */
function Replay({ recording, atAxle }: { recording: LiveRecording; atAxle: boolean }) {
  const [begin, end] = span(recording);
  const [at, setAt] = useState(end);
  const [upTo, setUpTo] = useState(end);
  const weighed = useQuery({
    queryKey: key.liveWeighed(recording.sources.length, upTo, end),
    queryFn: () => take(api.POST("/calc/live", { body: { recording: until(recording, upTo) } })),
    placeholderData: (old) => old,
    enabled: end > begin,
  });
  if (end <= begin) return <p>This count is empty.</p>;
  return (
    <div className="stack">
      {weighed.data && <Turned answer={weighed.data.live} atAxle={atAxle} />}
      {weighed.error && <p className="trouble">{weighed.error.message}</p>}
      <Slider
        aria-label="Moment of the count"
        thumbLabel="Moment of the count"
        min={begin}
        max={end}
        step={(end - begin) / 200}
        value={at}
        onChange={setAt}
        onChangeEnd={setUpTo}
        label={(v) => `${fixed(v - begin, 1)} s`}
      />
    </div>
  );
}
