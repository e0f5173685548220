import type { Doc, FaultTest } from "../../api/client";
import { OverMachine, partSpot, shaftSpot } from "../../machine/OverMachine";
import { useTrace } from "../../machine/useTrace";
import classes from "./findfault.module.css";

const still = {};

/** The unit in the state of the test: what is turned, and where to look. */
export function TestDrawing({ doc, test }: { doc: Doc; test: FaultTest }) {
  const { trace } = useTrace(doc, test.state ?? still);
  const turned = test.state?.input?.shaft;
  // Only where the outcomes differ is there anything to look at.
  const watched = (test.outcomes[0]?.seen ?? [])
    .filter((s, i) => test.outcomes.some((o) => o.seen?.[i]?.does !== s.does))
    .map((s) => s.watch);
  const marks = [
    ...(turned ? [{ at: turned, words: "turn" }] : []),
    ...watched.filter((w) => w !== "vehicle" && w !== "speedometer").map((w) => ({ at: w, words: "look" })),
    ...(test.part ? [{ at: test.part, words: "here" }] : []),
  ];
  if (!trace || marks.length === 0) return null;
  return (
    <OverMachine
      fit
      doc={doc}
      trace={trace}
      chosenPart={test.part}
      caption={<p className="dim">{test.part ? "Where to look." : "Drawn as it turns when all is well."}</p>}
    >
      {(plan) =>
        marks.map(({ at, words }) => {
          const spot = words === "here" ? partSpot(plan, at) : shaftSpot(plan, at);
          if (!spot) return null;
          return (
            <g key={at} className={words === "look" ? classes.looked : classes.turned}>
              <rect x={spot.x - 32} y={spot.y - 15} width={64} height={30} rx={words === "look" ? 15 : 2} />
              <text x={spot.x} y={spot.y + 7}>
                {words}
              </text>
            </g>
          );
        })
      }
    </OverMachine>
  );
}
