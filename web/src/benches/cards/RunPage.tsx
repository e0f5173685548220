import { Button, Loader, NativeSelect, TextInput } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { IconPrinter } from "@tabler/icons-react";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { type CardRun, reason, type WorkSheet, type WorkStep } from "../../api/client";
import { useKept } from "../../app/local";
import { useMaySave, useSession } from "../../app/session";
import { useTitle } from "../../app/title";
import { minutes, when } from "../../format/numbers";
import { SignInFirst } from "../../people/SignInFirst";
import { Evidence } from "../marks/Evidence";
import { useUnit } from "../useUnit";
import classes from "./cards.module.css";
import { StepPicture } from "./StepPicture";
import { type Away, awayStore, entryKey, useRun } from "./useRun";

type Written = Record<string, { figure?: string; note?: string }>;
const nothing: Written = {};

/** A card that is being done: the step that is next, large; what is done, the gate, and the way back beside it. */
export function RunPage() {
  const id = Number(useParams().id);
  const { run, enter, close, waiting } = useRun(id);
  const r = run.data;
  useTitle(r?.title ?? "Work card", r?.unit_name);
  const maySave = useMaySave();
  const me = useSession().data?.person?.name ?? "";
  // What is written and not yet sent survives a reload.
  const [written, write] = useKept<Written>(`zorvel.card.${id}`, nothing);
  const [looked, look] = useState<string>();
  const s = r?.sheet;
  const now = s?.steps.find((x) => x.id === (looked ?? s.next)) ?? s?.steps[s.steps.length - 1];
  const put = (step: string, v: { figure?: string; note?: string }) =>
    write({ ...written, [step]: { ...written[step], ...v } });
  const check = (step: WorkStep, kind: "check" | "second" | "undo") => {
    enter.mutate(
      {
        key: entryKey(),
        kind,
        step: step.id,
        figure: kind === "check" ? written[step.id]?.figure?.trim() || undefined : undefined,
        note: kind === "check" ? written[step.id]?.note?.trim() || undefined : undefined,
      },
      { onSuccess: () => look(undefined) },
    );
  };
  const open = Boolean(r && !r.closed_at && maySave);
  useHotkeys([
    [
      "Enter",
      (e) => {
        // Enter on a button or link is that button's own.
        if (e.target instanceof Element && e.target.closest("button, a, summary")) return;
        if (open && now?.state === "open") check(now, "check");
      },
    ],
  ]);
  if (run.error && !r) return <SignInFirst error={run.error} />;
  if (!r || !s || !now) return <Loader m="xl" />;
  return (
    <>
      <div className="band no-print">
        <h1>
          <Link to={`/units/${r.unit_id}`}>{r.unit_name}</Link>
          <span> · {r.title}</span>
        </h1>
        <p>
          {s.done} of {s.of} steps{s.minutes > 0 && `, about ${minutes(s.minutes)} left`}
        </p>
      </div>
      <main id="main" className={classes.run}>
        <ol className={classes.steps} aria-label="Steps">
          {s.steps.map((x, i) => (
            <li key={x.id}>
              <button
                type="button"
                aria-current={x.id === now.id ? "step" : undefined}
                className={classes[x.state]}
                onClick={() => look(x.id)}
              >
                <span aria-hidden>{signs[x.state]}</span> {i + 1}. {x.do}
                {x.by && (
                  <small>
                    {x.by}
                    {x.second && `, seen by ${x.second}`}
                  </small>
                )}
              </button>
            </li>
          ))}
        </ol>
        <section className={classes.now} aria-label="This step" aria-live="polite">
          <p className={classes.kicker}>
            Step {s.steps.indexOf(now) + 1} of {s.of}
            {now.minutes ? ` · ${minutes(now.minutes)}` : ""}
            {now.gate && " · a gate"}
          </p>
          <h2>{now.do}</h2>
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
          {now.state === "open" && open && (
            <>
              <div className={classes.fields}>
                {now.figure && (
                  <TextInput
                    label={`Write in: ${now.figure}`}
                    value={written[now.id]?.figure ?? ""}
                    maxLength={200}
                    onChange={(e) => put(now.id, { figure: e.currentTarget.value })}
                  />
                )}
                <TextInput
                  label={now.off ? `How the ${now.off} sat: which way round, which shims` : "Note"}
                  placeholder={now.off ? "as usual, if nothing is special" : ""}
                  value={written[now.id]?.note ?? ""}
                  maxLength={400}
                  onChange={(e) => put(now.id, { note: e.currentTarget.value })}
                />
              </div>
              {now.gate && <Gate sheet={s} settle={(body) => enter.mutate(body)} />}
              <div className="row wrap">
                <Button size="lg" loading={enter.isPending} onClick={() => check(now, "check")}>
                  ✓ Done
                </Button>
                <BenchDoor run={r} step={now} />
              </div>
            </>
          )}
          {now.state === "waiting" && open && (
            <div className={classes.hold}>
              <p>
                <b>{now.by}</b> did it. A second pair of eyes looks before it goes on.
              </p>
              <div className="row wrap">
                <Button
                  size="lg"
                  disabled={now.by === me}
                  loading={enter.isPending}
                  onClick={() => check(now, "second")}
                >
                  Seen, it is right
                </Button>
                {now.by === me && <span className="dim">Somebody else signs in and looks.</span>}
              </div>
            </div>
          )}
          {now.state !== "open" && (
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
                  <Button size="compact-md" variant="default" onClick={() => check(now, "undo")}>
                    Take it back
                  </Button>
                  <BenchDoor run={r} step={now} />
                </div>
              )}
            </>
          )}
          {waiting.length > 0 && (
            <p role="status">
              {waiting.length === 1 ? "1 check-off waits" : `${waiting.length} check-offs wait`} on this device until
              the server has {waiting.length === 1 ? "it" : "them"}; the card moves on then.
            </p>
          )}
          <Evidence
            key={now.id}
            unit={r.unit_id}
            of={{ run: id, step: now.id }}
            title={`${r.title}: ${now.do}`}
            part={r.part || undefined}
            may={open}
          />
          {enter.error && <p className="trouble">{reason(enter.error).replace(/^\/[a-z]+: /, "")}</p>}
          <div className={`row wrap no-print ${classes.end}`}>
            {open && (
              <Button
                variant={s.ready ? "filled" : "default"}
                disabled={!s.ready}
                loading={close.isPending}
                onClick={() => close.mutate()}
              >
                Close the card
              </Button>
            )}
            {!s.ready && s.done === s.of && <span className="dim">Still: {s.missing.join("; ")}.</span>}
            {r.closed_at && (
              <span>
                Closed by {r.closed_by}, {when(r.closed_at)}.
              </span>
            )}
            <Button
              variant="default"
              leftSection={<IconPrinter size={16} />}
              component="a"
              href={`/api/v1/card-runs/${id}/pdf`}
              target="_blank"
            >
              Print
            </Button>
            {close.error && <span className="trouble">{reason(close.error)}</span>}
          </div>
        </section>
        <aside className={classes.side} aria-label="The way back">
          {s.back.length > 0 && (
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
          )}
          {s.gate.length > 0 && (
            <>
              <h3>Before it is closed</h3>
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
              <h3>To have ready</h3>
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
      </main>
    </>
  );
}

const signs: Record<string, string> = { open: "○", waiting: "◐", done: "✓" };
const answerWords: Record<string, string> = { done: "done", ordered: "ordered", not_now: "not now" };

/** What is open on the unit, answered one by one before it is closed. */
function Gate({
  sheet,
  settle,
}: {
  sheet: WorkSheet;
  settle: (b: Parameters<ReturnType<typeof useRun>["enter"]["mutate"]>[0]) => void;
}) {
  const [why, setWhy] = useState<Record<string, { answer: string; note: string }>>({});
  const open = sheet.gate.filter((g) => !g.answer);
  if (sheet.gate.length === 0) return <p className="dim">Nothing else is open on this unit.</p>;
  return (
    <fieldset className={classes.gate}>
      <legend>While it is open: done, ordered, or not now and why</legend>
      {open.length === 0 && <p>Everything is answered.</p>}
      {open.map((g) => {
        const v = why[g.id] ?? { answer: "done", note: "" };
        const set = (c: Partial<typeof v>) => setWhy({ ...why, [g.id]: { ...v, ...c } });
        return (
          <div key={g.id} className={classes.item}>
            <p>
              <b>{g.what}</b>
              <small>{g.why}</small>
            </p>
            <NativeSelect
              aria-label={`${g.what}: answer`}
              value={v.answer}
              onChange={(e) => set({ answer: e.currentTarget.value })}
              data={[
                { value: "done", label: "done" },
                { value: "ordered", label: "ordered" },
                { value: "not_now", label: "not now" },
              ]}
            />
            <TextInput
              aria-label={`${g.what}: note`}
              placeholder={v.answer === "not_now" ? "why not" : "note"}
              value={v.note}
              maxLength={400}
              onChange={(e) => set({ note: e.currentTarget.value })}
            />
            <Button
              variant="default"
              disabled={v.answer === "not_now" && !v.note.trim()}
              onClick={() =>
                settle({
                  key: entryKey(),
                  kind: "gate",
                  step: g.id,
                  figure: v.answer,
                  note: v.note.trim() || undefined,
                })
              }
            >
              Answer
            </Button>
          </div>
        );
      })}
    </fieldset>
  );
}

/** Where a reading of this step goes: its bench, and from there back to the card. */
function BenchDoor({ run, step }: { run: CardRun; step: WorkStep }) {
  const navigate = useNavigate();
  const [, setAway] = useKept<Away>(awayStore, null);
  const { unit } = useUnit(run.unit_id);
  if (!step.bench || !unit) return null;
  const stage = unit.stages.find((x) => x.present && x.part === run.part) ?? unit.stages.find((x) => x.present);
  const at = `/units/${run.unit_id}`;
  const part = run.part ? `?part=${run.part}` : "";
  const doors: Record<string, [string, string]> = {
    identify: [stage ? `/stages/${stage.id}` : at, "Count or turn"],
    setup: [`${at}/set-up${part}`, "Set up"],
    freeplay: [`${at}/free-play${part}`, "Free play"],
    fits: [`${at}/set-up${part ? `${part}&` : "?"}tab=fits`, "Does it fit?"],
    gearcase: [`${at}/gearcase`, "Gearcase"],
    changegears: [`${at}/change-gears`, "Change gears"],
    speedometer: [`${at}/speedometer`, "Speedometer"],
    trace: [`${at}/trace`, "Trace"],
  };
  const door = doors[step.bench];
  if (!door) return null;
  return (
    <Button
      size="lg"
      variant="default"
      onClick={() => {
        setAway({ run: run.id, title: run.title, step: step.do });
        navigate(door[0]);
      }}
    >
      {door[1]} …
    </Button>
  );
}
