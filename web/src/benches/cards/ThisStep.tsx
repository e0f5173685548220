import { Button, TextInput } from "@mantine/core";
import type { CardRun, WorkStep } from "../../api/client";
import { useSession } from "../../app/session";
import { when } from "../../format/numbers";
import { BenchDoor } from "./BenchDoor";
import classes from "./cards.module.css";
import { Gate } from "./Gate";
import { StepPicture } from "./StepPicture";
import type { useRun } from "./useRun";

export type Check = "check" | "second" | "undo";
export type Note = { figure?: string; note?: string };

/** What a step needs: cautions, tools, what to look for, parts. */
export function StepFacts({ step: now }: { step: WorkStep }) {
  return (
    <>
      {now.caution && <p className={classes.caution}>△ {now.caution}</p>}
      <div className={classes.facts}>
        <div>
          {now.with && (
            <p>
              <b>With:</b> {now.with}
            </p>
          )}
          {now.look && (
            <p>
              <b>Look:</b> {now.look}
            </p>
          )}
          {now.parts && now.parts.length > 0 && (
            <p>
              <b>Ready:</b> {now.parts.join(", ")}
            </p>
          )}
          {now.off && (
            <p>
              <b>Comes off:</b> {now.off}. On the way back: {now.back}.
            </p>
          )}
        </div>
        {now.picture && <StepPicture of={now.picture} />}
      </div>
    </>
  );
}

type Props = {
  run: CardRun;
  step: WorkStep;
  written: Note;
  onWrite: (n: Note) => void;
  enter: ReturnType<typeof useRun>["enter"];
  onCheck: (kind: Check) => void;
};

/** A step that is open: what to write in, and the check. */
export function OpenStep({ run: r, step: now, written, onWrite, enter, onCheck }: Props) {
  return (
    <>
      <div className={classes.fields}>
        {now.figure && (
          <TextInput
            label={`Write in: ${now.figure}`}
            value={written.figure ?? ""}
            maxLength={200}
            onChange={(e) => onWrite({ figure: e.currentTarget.value })}
          />
        )}
        <TextInput
          label={now.off ? `How the ${now.off} sat: which way round, which shims` : "Note"}
          placeholder={now.off ? "as usual, if nothing is special" : ""}
          value={written.note ?? ""}
          maxLength={400}
          onChange={(e) => onWrite({ note: e.currentTarget.value })}
        />
      </div>
      {now.gate && <Gate sheet={r.sheet} settle={enter.mutate} />}
      <div className="row wrap">
        <Button size="lg" loading={enter.isPending} onClick={() => onCheck("check")}>
          ✓ Done
        </Button>
        <BenchDoor run={r} step={now} />
      </div>
    </>
  );
}

/** A step that somebody else has to look at. */
export function SecondLook({ step: now, enter, onCheck }: Pick<Props, "step" | "enter" | "onCheck">) {
  const me = useSession().data?.person?.name ?? "";
  return (
    <div className={classes.hold}>
      <p>
        <b>{now.by}</b> did this step. A second person checks it before the next step.
      </p>
      <div className="row wrap">
        <Button size="lg" disabled={now.by === me} loading={enter.isPending} onClick={() => onCheck("second")}>
          Checked: it is right
        </Button>
        {now.by === me && <span className="dim">Someone else has to sign in and check it.</span>}
      </div>
    </div>
  );
}

/** A step that is done, by whom, and what was written. */
export function DoneStep({
  run: r,
  step: now,
  open,
  onCheck,
}: Pick<Props, "run" | "step" | "onCheck"> & { open: boolean }) {
  return (
    <>
      <p className="dim">
        {now.by}
        {now.at && `, ${when(now.at)}`}
        {now.second && `; seen by ${now.second}`}
        {now.wrote && ` · ${now.figure}: ${now.wrote}`}
        {now.noted && ` · noted: ${now.noted}`}
      </p>
      {open && (
        <div className="row wrap">
          <Button size="compact-md" variant="default" onClick={() => onCheck("undo")}>
            Undo step
          </Button>
          <BenchDoor run={r} step={now} />
        </div>
      )}
    </>
  );
}
