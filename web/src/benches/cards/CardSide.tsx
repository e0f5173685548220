import { Button } from "@mantine/core";
import type { WorkSheet } from "../../api/client";
import classes from "./cards.module.css";
import { entryKey, type useRun } from "./useRun";

const answerWords: Record<string, string> = { done: "done", ordered: "ordered", not_now: "not now" };

type Props = { sheet: WorkSheet; open: boolean; enter: ReturnType<typeof useRun>["enter"] };

/** Beside the step: the way back, what is open before the card is closed, parts, tools and refill. */
export function CardSide({ sheet: s, open, enter }: Props) {
  return (
    <aside className={classes.side} aria-label="The way back">
      {s.back.length > 0 && <WayBack sheet={s} open={open} enter={enter} />}
      {s.gate.length > 0 && (
        <>
          <h3>Before you close it</h3>
          <ul>
            {s.gate.map((g) => (
              <li key={g.id}>
                {g.answer ? "✓" : "○"} {g.what}
                {g.answer && (
                  <em>
                    {" "}
                    {answerWords[g.answer]}
                    {g.note && `: ${g.note}`}
                  </em>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      {s.parts.length > 0 && (
        <>
          <h3>Have ready</h3>
          <p>{s.parts.join(", ")}</p>
        </>
      )}
      <h3>Tools</h3>
      <p>{s.tools.join(", ")}</p>
      {s.refill && (
        <>
          <h3>Refill</h3>
          <p>{s.refill}</p>
        </>
      )}
    </aside>
  );
}

function WayBack({ sheet: s, open, enter }: Props) {
  return (
    <>
      <h3>The way back</h3>
      <ol>
        {s.back.map((w, i) => (
          <li key={w.step} className={w.on ? classes.on : ""}>
            <b>{w.what}</b>: {w.how}
            {w.noted && <em> noted: {w.noted}</em>}
            {w.on ? (
              <em> ✓ on again, {w.on}</em>
            ) : (
              open &&
              s.back.slice(0, i).every((x) => x.on) && (
                <Button
                  size="compact-sm"
                  variant="default"
                  loading={enter.isPending}
                  onClick={() => enter.mutate({ key: entryKey(), kind: "back", step: w.step })}
                >
                  On again: {w.what}
                </Button>
              )
            )}
          </li>
        ))}
      </ol>
    </>
  );
}
