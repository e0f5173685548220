import { Loader } from "@mantine/core";
import { useEffect, useRef } from "react";
import type { Doc, Part, StageSummary } from "../api/client";
import { useApart } from "./apart";
import { Doors } from "./Doors";
import classes from "./doors.module.css";
import { Enlarge } from "./Enlarge";
import { Machine, usePlan } from "./Machine";
import { frameStyle, frontMark } from "./upright";
import { useTrace } from "./useTrace";

const still = {};
const nothing = () => {};

type Props = {
  doc: Doc;
  stages: StageSummary[];
  chosen?: string;
  small?: boolean;
  open?: (p: Part) => boolean;
  onPart: (id: string) => void;
};

/** A unit's machine as it lies, standing still, with a door on each of its parts. */
export function UnitMachine({ doc, stages, chosen, small, open, onPart }: Props) {
  const plan = usePlan(doc, small);
  const { trace, error } = useTrace(doc, still);
  const inner = useRef<HTMLDivElement>(null);
  useApart(inner, small ? undefined : `${Boolean(trace)} ${JSON.stringify(stages)}`);
  // Where the machine is wider than the page, the chosen part comes into view.
  const drawn = Boolean(trace);
  useEffect(() => {
    const door = chosen && drawn && inner.current?.querySelector(`[data-part="${CSS.escape(chosen)}"]`);
    if (door) door.scrollIntoView({ block: "nearest", inline: "center" });
  }, [chosen, drawn]);
  if (error && !trace) return <p className="trouble">The machine can't be drawn: {error.message}</p>;
  const drawing = (
    <div
      ref={inner}
      className={small ? classes.small : classes.inner}
      style={frameStyle(plan)}
      data-upright={plan.upright || undefined}
    >
      {trace ? (
        <>
          <Machine doc={doc} trace={trace} chosenPart={chosen} small={small} onShaft={nothing} onPart={onPart} />
          <Doors doc={doc} plan={plan} stages={stages} chosen={chosen} small={small} open={open} onPart={onPart} />
        </>
      ) : (
        <Loader m="xl" />
      )}
    </div>
  );
  return (
    <div className={small ? classes.frameSmall : classes.frame}>
      {small ? drawing : <Enlarge>{drawing}</Enlarge>}
      {!small && doc.lies !== "bench" && <span className={classes.mark}>{frontMark(doc, plan)}</span>}
    </div>
  );
}
