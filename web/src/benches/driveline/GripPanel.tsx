import { NativeSelect, TextInput } from "@mantine/core";
import { api, type Doc, type DrivelineState, type Refused, type Traction, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useKept } from "../../app/local";
import { fixed, typed } from "../../format/numbers";
import { partName } from "../../machine/document";
import "./driveline.css";

type Typed = {
  ground: string;
  grade: string;
  rolling: string;
  wheels: Record<string, string>;
  brakes: Record<string, string>;
};
const start: Typed = { ground: "0.6", grade: "0", rolling: "0.012", wheels: {}, brakes: {} };

const grounds = [
  { value: "0.8", label: "dry pavement, 0.8" },
  { value: "0.6", label: "gravel, 0.6" },
  { value: "0.5", label: "wet pavement, 0.5" },
  { value: "0.3", label: "wet clay, 0.3" },
  { value: "0.2", label: "packed snow, 0.2" },
  { value: "0.1", label: "ice, 0.1" },
];

const wheelsOf = (doc: Doc) => doc.parts.filter((p) => p.kind === "wheel");

const bad = (s: string) => (typed(s) !== undefined && Number.isNaN(typed(s)) ? "Enter a number" : undefined);

/** What was typed as the question has it. */
function gripOf(doc: Doc, t: Typed) {
  const num = (s: string | undefined) => {
    const v = typed(s ?? "");
    return v === undefined || Number.isNaN(v) ? undefined : v;
  };
  const some = (o: Record<string, string>) =>
    Object.fromEntries(
      wheelsOf(doc).flatMap((p) => (num(o[p.id]) === undefined ? [] : [[p.id, num(o[p.id]) as number]])),
    );
  return {
    default: num(t.ground) ?? 0.6,
    grade_percent: num(t.grade) ?? 0,
    rolling: num(t.rolling) ?? 0,
    wheels: some(t.wheels),
    brakes: some(t.brakes),
  };
}

/** How hard it can pull, which wheel gives up first, and what grade it climbs. */
export function GripPanel({ doc, state }: { doc: Doc; state: DrivelineState }) {
  const [t, set] = useKept<Typed>("zorvel.grip", start);
  const grip = gripOf(doc, t);
  const { answer: r, refused } = useCalc(
    key.traction,
    { driveline: doc, state, grip },
    (body, signal) => take(api.POST("/calc/traction", { body, signal })),
    { rest: 150 },
  );
  return (
    <div className="grip-panel">
      <div className="two">
        <NativeSelect
          label="Ground"
          value={t.ground}
          data={
            grounds.some((g) => g.value === t.ground) ? grounds : [...grounds, { value: t.ground, label: t.ground }]
          }
          onChange={(e) => set({ ...t, ground: e.currentTarget.value })}
        />
        <TextInput
          label="Grade, %"
          value={t.grade}
          onChange={(e) => set({ ...t, grade: e.currentTarget.value })}
          error={bad(t.grade) ?? refused?.at("/grade_percent")}
        />
      </div>
      {refused && <p className="trouble">{refused.message}</p>}
      {refused?.at("/loads_n") && (
        <p className="dim">Enter mass and weight distribution under Build, About the vehicle.</p>
      )}
      {r && (
        <>
          <p className={`grip-answer ${r.climbs ? "" : "is-short"}`}>{r.sentence}</p>
          <ol className="steps">
            {r.steps.map((s) => (
              <li key={s}>{s}</li>
            ))}
            {r.max_grade_percent !== undefined && (
              <li>Steepest grade with this ground and engine: {fixed(r.max_grade_percent, 1)} %.</li>
            )}
          </ol>
        </>
      )}
      <Wheels doc={doc} typed={t} set={set} answer={r} refused={refused} />
      {r && (
        <small className="dim">
          {r.formula}. A tire passes at most load × grip. Weight shift by the grade is counted, by acceleration not.
        </small>
      )}
    </div>
  );
}

type WheelsProps = {
  doc: Doc;
  typed: Typed;
  set: (t: Typed) => void;
  answer?: Traction;
  refused?: Refused;
};

/** Each wheel's grip and brake, and what it then passes. */
function Wheels({ doc, typed: t, set, answer, refused }: WheelsProps) {
  return (
    <table className="figures">
      <thead>
        <tr>
          <th>Wheel</th>
          <th>Grip</th>
          <th>Brake, N</th>
          <th>Force</th>
        </tr>
      </thead>
      <tbody>
        {wheelsOf(doc).map((p) => {
          const w = answer?.wheels.find((x) => x.part === p.id);
          return (
            <tr key={p.id}>
              <td>
                {partName(p)}
                <small title={w?.formula}>{w?.words}</small>
              </td>
              <td>
                <TextInput
                  size="xs"
                  w={62}
                  aria-label={`Grip, ${partName(p)}`}
                  placeholder={t.ground}
                  value={t.wheels[p.id] ?? ""}
                  error={bad(t.wheels[p.id] ?? "") ?? refused?.at(`/wheels/${p.id}`)}
                  onChange={(e) => set({ ...t, wheels: { ...t.wheels, [p.id]: e.currentTarget.value } })}
                />
              </td>
              <td>
                <TextInput
                  size="xs"
                  w={70}
                  aria-label={`Brake on ${partName(p)}`}
                  placeholder="0"
                  value={t.brakes[p.id] ?? ""}
                  error={bad(t.brakes[p.id] ?? "") ?? refused?.at(`/brakes/${p.id}`)}
                  onChange={(e) => set({ ...t, brakes: { ...t.brakes, [p.id]: e.currentTarget.value } })}
                />
              </td>
              <td className="num">
                {w ? `${fixed(w.force_n, 0)} N` : ""}
                {w && (
                  <span className={`force ${w.slips ? "is-slipping" : ""}`} aria-hidden="true">
                    <i style={{ width: `${Math.min(100, (100 * Math.abs(w.force_n)) / Math.max(w.limit_n, 1))}%` }} />
                  </span>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
