import { api, type Doc, type FreePlay, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useForm } from "../../form/useForm";
import { useTrace } from "../../machine/useTrace";
import { number } from "../tire/model";

/** A shaft that was rocked: what was held, and how far it went, as typed. */
export type Rocked = { at: string; hold: string[]; angle: string; radius: string };
export type Form = {
  select: Record<string, string>;
  wheels: string;
  measured: Rocked[];
  suppose: string;
  degrees: string;
};
export const noRocked: Rocked = { at: "", hold: [], angle: "", radius: "" };
const noForm: Form = { select: {}, wheels: "ground", measured: [noRocked], suppose: "", degrees: "1" };

const kindOf = (doc: Doc, part: string) => doc.parts.find((p) => p.id === part)?.kind;

const askedOf = (m: Rocked): FreePlay["measured"][number] => ({
  at: m.at,
  hold: m.hold,
  ...(m.angle.trim() === ""
    ? {}
    : m.radius.trim()
      ? { arc_mm: number(m.angle), radius_mm: number(m.radius) }
      : { degrees: number(m.angle) }),
});

/** What was rocked so far on a driveline, and what it says. */
export function useRocked(store: string, doc: Doc) {
  const { form, set, startOver } = useForm<Form>(store, noForm);
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
  // Where to rock first, until a shaft is chosen: a driveshaft, where the hand gets at most of the play.
  const suggested = shafts.find((s) => kindOf(doc, s.part ?? "") === "shaft")?.id ?? "";
  const measured = form.measured.map((m, i) => (i === 0 && !m.at ? { ...m, at: suggested } : m));
  const question: FreePlay = {
    driveline: doc,
    state,
    measured: measured.filter((m) => m.at).map(askedOf),
    suppose:
      form.suppose && form.degrees.trim() ? [{ place: form.suppose, degrees: number(form.degrees) ?? -1 }] : undefined,
  };
  const ready = question.measured.length > 0;
  const calc = useCalc(key.freePlay, question, (body, signal) => take(api.POST("/calc/free-play", { body, signal })), {
    ready,
  });
  return {
    ...calc,
    form,
    set,
    startOver,
    trace,
    shafts,
    measured,
    question,
    ready,
    /** A shaft by its name. */
    name: (id: string) => shafts.find((s) => s.id === id)?.name ?? id,
    /** Changes a measurement; the newest, where none is named. */
    put: (v: Partial<Rocked>, i = measured.length - 1) =>
      set({ measured: measured.map((m, k) => (k === i ? { ...m, ...v } : m)) }),
  };
}

export type Rocking = ReturnType<typeof useRocked>;
