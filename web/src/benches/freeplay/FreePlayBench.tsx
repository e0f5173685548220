import { Button, NativeSelect, SegmentedControl, TextInput } from "@mantine/core";
import { IconPlus, IconTrash } from "@tabler/icons-react";
import { type ReactNode, useState } from "react";
import { api, type Doc, type FreePlay, type FreePlayAnswer, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { useForm } from "../../form/useForm";
import { fixed, when } from "../../format/numbers";
import { PartShares } from "../../machine/PartShares";
import { useTrace } from "../../machine/useTrace";
import { AnswerPlate, Cautions } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { number } from "../tire/model";
import { useLast } from "../useLast";
import classes from "./freeplay.module.css";

type Rocked = { at: string; hold: string[]; angle: string; radius: string };
type Form = { select: Record<string, string>; wheels: string; measured: Rocked[]; suppose: string; degrees: string };
const noRocked: Rocked = { at: "", hold: [], angle: "", radius: "" };
const noForm: Form = { select: {}, wheels: "ground", measured: [noRocked], suppose: "", degrees: "1" };

type Props = { store: string; title: ReactNode; unit?: number; doc: Doc; choose?: ReactNode };

/** Where the play of a driveline sits: rocked by hand, shaft after shaft held. */
export function FreePlayBench({ store, title, unit, doc, choose }: Props) {
  const { form, set, startOver } = useForm<Form>(store, noForm);
  const [touch, setTouch] = useState<"rock" | "hold">("rock");
  const last = useLast(unit, "free_play");
  const wheels = Object.fromEntries(doc.parts.filter((p) => p.kind === "wheel").map((p) => [p.id, form.wheels]));
  const around = doc.lies === "bench" ? undefined : wheels;
  const { trace: first } = useTrace(doc, { wheels: around });
  // In neutral, unless another gear is chosen: else engine and wheels both hold.
  const neutral = Object.fromEntries(
    (first?.selectors ?? [])
      .filter((s) => kindOf(doc, s.part) === "gearbox" && s.options.some((o) => o.value === "N"))
      .map((s) => [s.id, "N"]),
  );
  const state = { select: { ...neutral, ...form.select }, wheels: around };
  const { trace } = useTrace(doc, state);
  const shafts = trace?.shafts ?? [];
  const name = (id: string) => shafts.find((s) => s.id === id)?.name ?? id;
  // Where to rock first, until a shaft is chosen: a driveshaft, where the hand gets at most of the play.
  const suggested = shafts.find((s) => kindOf(doc, s.part ?? "") === "shaft")?.id ?? "";
  const measured = form.measured.map((m, i) => (i === 0 && !m.at ? { ...m, at: suggested } : m));
  const at = measured.length - 1;
  const now = measured[at] ?? noRocked;
  const put = (v: Partial<Rocked>, i = at) => set({ measured: measured.map((m, k) => (k === i ? { ...m, ...v } : m)) });
  const question: FreePlay = {
    driveline: doc,
    state,
    measured: measured
      .filter((m) => m.at)
      .map((m) => ({
        at: m.at,
        hold: m.hold,
        ...(m.angle.trim() === ""
          ? {}
          : m.radius.trim()
            ? { arc_mm: number(m.angle), radius_mm: number(m.radius) }
            : { degrees: number(m.angle) }),
      })),
    suppose:
      form.suppose && form.degrees.trim() ? [{ place: form.suppose, degrees: number(form.degrees) ?? -1 }] : undefined,
  };
  const ready = question.measured.length > 0;
  const { answer, refused, error } = useCalc(
    key.freePlay,
    question,
    (body, signal) => take(api.POST("/calc/free-play", { body, signal })),
    {
      ready,
    },
  );
  const onShaft = (id: string) => {
    if (touch === "rock") put({ at: id, hold: now.hold.filter((h) => h !== id) });
    else if (id !== now.at) put({ hold: now.hold.includes(id) ? now.hold.filter((h) => h !== id) : [...now.hold, id] });
  };
  const b = bind<Form, FreePlay>(form, set, refused);
  return (
    <>
      <div className="band no-print">
        <h1>{title}</h1>
        {choose}
      </div>
      <main id="main" className="page wide">
        {trace && (
          <PartShares
            doc={doc}
            trace={trace}
            parts={answer?.parts}
            chosen={now.at}
            onShaft={onShaft}
            of="What you feel there"
          />
        )}
        <div className={classes.split}>
          <section className={classes.ask} aria-label="What you rocked">
            <div className="row wrap">
              <SegmentedControl
                value={touch}
                onChange={(v) => setTouch(v as "rock" | "hold")}
                data={[
                  { value: "rock", label: "Tap the shaft you rock" },
                  { value: "hold", label: "… and the one you hold" },
                ]}
              />
            </div>
            <div className={classes.levers}>
              {doc.lies !== "bench" &&
                wheelsOf(doc) > 0 &&
                b.choice(
                  "Wheels",
                  "wheels",
                  [
                    { value: "ground", label: "on the ground, chocked" },
                    { value: "lifted", label: "lifted, free" },
                    { value: "held", label: "lifted and held" },
                  ],
                  { field: null },
                )}
              {trace?.selectors.map((s) => (
                <NativeSelect
                  key={s.id}
                  label={s.name}
                  value={s.value}
                  onChange={(e) => set({ select: { ...form.select, [s.id]: e.currentTarget.value } })}
                  data={s.options.map((o) => ({ value: o.value, label: o.words }))}
                />
              ))}
            </div>
            <ol className={classes.measured}>
              {measured.map((m, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: measurements are known by their order
                <li key={i} className={i === at ? classes.current : ""}>
                  <NativeSelect
                    label="Rocked"
                    value={m.at}
                    onChange={(e) => put({ at: e.currentTarget.value }, i)}
                    error={refused?.field(`/measured/${i}/at`)}
                    data={[
                      { value: "", label: "which shaft?" },
                      ...shafts.map((s) => ({ value: s.id, label: s.name })),
                    ]}
                  />
                  <TextInput
                    label={m.radius.trim() ? "Arc, mm, stop to stop" : "Degrees, stop to stop"}
                    inputMode="decimal"
                    value={m.angle}
                    placeholder="what is usual?"
                    onChange={(e) => put({ angle: e.currentTarget.value }, i)}
                    error={refused?.field(`/measured/${i}/degrees`) ?? refused?.field(`/measured/${i}/arc_mm`)}
                  />
                  <TextInput
                    label="On a rim of radius, mm"
                    inputMode="decimal"
                    value={m.radius}
                    placeholder="for an arc"
                    onChange={(e) => put({ radius: e.currentTarget.value }, i)}
                    error={refused?.field(`/measured/${i}/radius_mm`)}
                  />
                  <Button
                    variant="default"
                    aria-label={`Remove measurement ${i + 1}`}
                    disabled={measured.length === 1}
                    onClick={() => set({ measured: measured.filter((_, k) => k !== i) })}
                  >
                    <IconTrash size={16} />
                  </Button>
                  <p>
                    Held: {m.hold.length === 0 ? "nothing by hand" : m.hold.map(name).join(", ")}
                    {m.hold.length > 0 && (
                      <button type="button" className="linklike" onClick={() => put({ hold: [] }, i)}>
                        let go
                      </button>
                    )}
                  </p>
                </li>
              ))}
            </ol>
            <div className="row wrap">
              <Button
                variant="default"
                leftSection={<IconPlus size={16} />}
                disabled={measured.length >= 12}
                onClick={() =>
                  set({
                    measured: [
                      ...measured,
                      { ...noRocked, at: now.at, hold: answer?.next_hold ? [...now.hold, answer.next_hold] : now.hold },
                    ],
                  })
                }
              >
                {answer?.next_hold ? `Once more, with the ${name(answer.next_hold)} held` : "Another measurement"}
              </Button>
              <Button variant="default" onClick={startOver}>
                Start over
              </Button>
            </div>
          </section>
          <section aria-label="Where the play is" aria-live="polite">
            {!answer && (
              <Waiting
                title="Usual or too much, and where it is"
                missing={[!ready && "the shaft you rock: tap it above"]}
                error={error}
              />
            )}
            {answer && (
              <>
                <AnswerPlate>
                  <div>
                    <h2>{answer.sentence}</h2>
                    {answer.next && <p>→ {answer.next}</p>}
                    {answer.asks.map((a) => (
                      <p key={a}>? {a}</p>
                    ))}
                    {answer.supposed.map((s) => (
                      <p key={s}>{s}</p>
                    ))}
                  </div>
                </AnswerPlate>
                <Shares answer={answer} />
                <div className="row wrap">
                  {b.choice(
                    "Try play at",
                    "suppose",
                    [
                      { value: "", label: "What would you feel if …" },
                      ...answer.places.map((p) => ({ value: p.id, label: p.name })),
                    ],
                    { field: null, bare: true },
                  )}
                  {form.suppose &&
                    b.text("had so many degrees", "degrees", { field: "suppose", bare: true, width: 90 })}
                  <KeepWithUnit unit={unit} record={{ kind: "free_play", free_play: question }} />
                </div>
                {last && (
                  <p className="dim">
                    Last time, {when(last.at)}, {last.by}: {last.title}
                  </p>
                )}
                <details>
                  <summary>How much is too much?</summary>
                  {answer.schools.map((s) => (
                    <p key={s}>{s}</p>
                  ))}
                </details>
                <Cautions list={answer.cautions} />
              </>
            )}
          </section>
        </div>
      </main>
    </>
  );
}

const kindOf = (doc: Doc, part: string) => doc.parts.find((p) => p.id === part)?.kind;

const wheelsOf = (doc: Doc) => doc.parts.filter((p) => p.kind === "wheel").length;

/** What each place shows at the shaft that was rocked last: usual, and what the measurements leave. */
function Shares({ answer }: { answer: FreePlayAnswer }) {
  const last = answer.measured[answer.measured.length - 1];
  if (!last || last.shares.length === 0) return null;
  const places = new Map(answer.places.map((p) => [p.id, p]));
  return (
    <table className={`figures ${classes.shares}`}>
      <thead>
        <tr>
          <th scope="col">Place</th>
          <th scope="col">1° there shows as</th>
          <th scope="col">usual, °</th>
          <th scope="col">likely now, °</th>
        </tr>
      </thead>
      <tbody>
        {last.shares.slice(0, 9).map((s) => {
          const p = places.get(s.place);
          return (
            <tr key={s.place} className={p?.word === "more than usual" ? classes.more : ""}>
              <th scope="row">
                {p?.name}
                {p?.word === "more than usual" && " ▲"}
              </th>
              <td>{fixed(s.factor, 2)}</td>
              <td>{fixed(s.usual_deg, 2)}</td>
              <td>
                {fixed(s.likely_deg, 2)} <small className="dim">± {fixed(2 * (p?.sigma_deg ?? 0) * s.factor, 2)}</small>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
