import { Button, Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import type { MarkPoint, TeethOnPhoto } from "../../api/client";
import { key } from "../../api/keys";
import { chance, percent } from "../../format/numbers";
import classes from "./marks.module.css";
import { countTeeth } from "./sight";

type Asked = { src: string; tap?: MarkPoint; on: boolean };

/** The teeth that the program sees on a photo, looked for once they are asked for. */
export function useSight({ src, tap, on }: Asked) {
  return useQuery({
    queryKey: key.sight(src, tap),
    queryFn: ({ signal }) => countTeeth(src, tap, signal),
    enabled: on,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

type Props = {
  sight: ReturnType<typeof useSight>;
  on: boolean;
  pointing: boolean;
  onAsk: () => void;
  onPoint: () => void;
  onMarks: (p: MarkPoint[]) => void;
};

/** Counts by itself, says how sure it is, and lays a mark on every tooth for a person to check. */
export function CountIt({ sight, on, pointing, onAsk, onPoint, onMarks }: Props) {
  const { data, error, isFetching } = sight;
  const taken = useRef<TeethOnPhoto>(undefined);
  useEffect(() => {
    // A count's marks are laid once; what a person does with them afterwards is the person's.
    if (data && data.state !== "cant" && taken.current !== data) {
      taken.current = data;
      onMarks(data.marks);
    }
  }, [data, onMarks]);
  if (!on) {
    return (
      <Button onClick={onAsk} className={classes.countIt}>
        Count the teeth
      </Button>
    );
  }
  return (
    <section className={classes.sight} aria-label="Counted on the photo" aria-live="polite">
      {isFetching && (
        <p className="row">
          <Loader size="sm" /> Counting teeth …
        </p>
      )}
      {error && <p className="trouble">{error.message}</p>}
      {data && !isFetching && <Seen a={data} onMarks={onMarks} />}
      {pointing ? (
        <p>Tap the middle of the gear on the photo.</p>
      ) : (
        <Button size="compact-md" variant="default" disabled={isFetching} onClick={onPoint}>
          Count another gear on it
        </Button>
      )}
    </section>
  );
}

function Seen({ a, onMarks }: { a: TeethOnPhoto; onMarks: Props["onMarks"] }) {
  return (
    <>
      <h2>{a.sentence}</h2>
      {a.teeth !== undefined && a.state !== "cant" && (
        <p>
          Right {chance(a.chance)}
          {a.state === "likely" && a.others.length > 0 && `; it could be ${a.others.map((o) => o.teeth).join(" or ")}`}
          {a.doubtful.length > 0 &&
            `. Look at ${a.doubtful.length === 1 ? "the circled tooth" : `the ${a.doubtful.length} circled teeth`}`}
          .
        </p>
      )}
      {a.state === "cant" && a.marks.length > 0 && (
        <Button size="compact-md" variant="default" onClick={() => onMarks(a.marks)}>
          Show the guess as marks
        </Button>
      )}
      {a.advice.length > 0 && (
        <ul>
          {a.advice.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ul>
      )}
      {a.teeth !== undefined && (
        <details>
          <summary>Why</summary>
          <p className="dim">
            Around the rim {percent(a.why.share)} of the contrast repeats {a.teeth} times
            {a.why.next.teeth > 0 && `, and next best ${a.why.next.teeth} times`}. Teeth are seen on{" "}
            {percent(a.why.seen)} of the rim, {a.why.points_per_tooth} points each, and sit within{" "}
            {percent(a.why.phase_spread)} of a tooth of even spacing. The chance is how often such a count was right on
            drawn gears.
          </p>
        </details>
      )}
    </>
  );
}
