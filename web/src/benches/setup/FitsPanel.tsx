import { api, type FitsAnswer, type FitsQuestion, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useKept } from "../../app/local";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { AnswerPlate, Cautions } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { number } from "../tire/model";
import classes from "./setup.module.css";

const gearKeys = [
  "teeth",
  "module_mm",
  "pressure_deg",
  "helix_deg",
  "face_mm",
  "offset_mm",
  "width_mm",
  "splines",
  "spline_mm",
  "bolts",
  "circle_mm",
] as const;
const seatKeys = [
  "mate_teeth",
  "mate_module_mm",
  "mate_pressure_deg",
  "mate_helix_deg",
  "mate_face_mm",
  "mate_at_mm",
  "center_mm",
  "room_mm",
  "splines",
  "spline_mm",
  "bolts",
  "circle_mm",
] as const;
type GearForm = Record<(typeof gearKeys)[number] | "hand" | "worn", string>;
type SeatForm = Record<(typeof seatKeys)[number] | "mate_hand" | "worn" | "mate_worn", string>;
const blank = (keys: readonly string[]) => Object.fromEntries(keys.map((k) => [k, ""]));
const noGear = blank([...gearKeys, "hand", "worn"]) as GearForm;
const noSeat = blank([...seatKeys, "mate_hand", "worn", "mate_worn"]) as SeatForm;
const figures = (f: Record<string, string>, keys: readonly string[]) =>
  Object.fromEntries(keys.map((k) => [k, number(f[k] ?? "")]).filter(([, v]) => v !== undefined));

const hands = [
  { value: "", label: "straight, or not looked at" },
  { value: "left", label: "left-handed" },
  { value: "right", label: "right-handed" },
];
const wear = [
  { value: "", label: "not looked at" },
  { value: "new", label: "new" },
  { value: "used", label: "used, no step" },
  { value: "worn", label: "worn" },
];

/** Does this gear belong there? Both ways round, with why. */
export function FitsPanel({ store, unit }: { store: string; unit?: number }) {
  const [gear, keepGear] = useKept(`${store}.gear`, noGear);
  const [seat, keepSeat] = useKept(`${store}.seat`, noSeat);
  const question = {
    gear: { ...figures(gear, gearKeys), hand: gear.hand || undefined, worn: gear.worn || undefined },
    seat: {
      ...figures(seat, seatKeys),
      mate_hand: seat.mate_hand || undefined,
      worn: seat.worn || undefined,
      mate_worn: seat.mate_worn || undefined,
    },
  } as FitsQuestion;
  const ready = Boolean(gear.teeth.trim() && seat.mate_teeth.trim());
  const { answer, refused, error } = useCalc(
    key.fits,
    question,
    (body, signal) => take(api.POST("/calc/fits", { body, signal })),
    {
      ready,
    },
  );
  const setGear = (v: Partial<GearForm>) => keepGear({ ...gear, ...v });
  const setSeat = (v: Partial<SeatForm>) => keepSeat({ ...seat, ...v });
  const g = bind<GearForm, FitsQuestion["gear"]>(gear, setGear, refused, { at: "/gear" });
  const s = bind<SeatForm, FitsQuestion["seat"]>(seat, setSeat, refused, { at: "/seat" });
  return (
    <div className={classes.split}>
      <section className={classes.ask} aria-label="The gear and its place">
        <GearFields g={g} />
        <SeatFields s={s} />
      </section>
      <section aria-label="Does it fit" aria-live="polite">
        {!answer && (
          <Waiting
            title="Does it fit, and which way round?"
            missing={[!ready && "teeth on the gear and its mating gear"]}
            error={error}
          />
        )}
        {answer && (
          <>
            <AnswerPlate>
              <div>
                <p className="decide-kicker">{words[answer.answer]}</p>
                <h2>{answer.sentence}</h2>
              </div>
            </AnswerPlate>
            <Faces gear={gear} seat={seat} answer={answer} />
            <Ways ways={answer.ways} />
            <div className="row">
              <KeepWithUnit unit={unit} record={{ kind: "fits", fits: question }} />
            </div>
            <Cautions list={answer.cautions} />
          </>
        )}
      </section>
    </div>
  );
}

const n = { numeric: true };

function GearFields({ g }: { g: ReturnType<typeof bind<GearForm, FitsQuestion["gear"]>> }) {
  return (
    <>
      <h2>The gear in your hand</h2>
      <div className={classes.four}>
        {g.text("Teeth", "teeth", n)}
        {g.text("Module, mm", "module_mm", n)}
        {g.text("Pressure, °", "pressure_deg", n)}
        {g.text("Helix, °", "helix_deg", n)}
        {g.text("Face, mm", "face_mm", n)}
        {g.text("Face to hub, mm", "offset_mm", { ...n, placeholder: "+ to the mark" })}
        {g.text("Width, mm", "width_mm", n)}
        {g.text("Splines", "splines", n)}
        {g.text("Across them, mm", "spline_mm", n)}
        {g.text("Bolts", "bolts", n)}
        {g.text("Bolt circle, mm", "circle_mm", n)}
        {g.choice("Hand", "hand", hands, { field: null })}
        {g.choice("It is", "worn", wear, { field: null })}
      </div>
    </>
  );
}

function SeatFields({ s }: { s: ReturnType<typeof bind<SeatForm, FitsQuestion["seat"]>> }) {
  return (
    <>
      <h2>Its place and its mating gear</h2>
      <div className={classes.four}>
        {s.text("Mate's teeth", "mate_teeth", n)}
        {s.text("Mate's module, mm", "mate_module_mm", n)}
        {s.text("Mate's pressure, °", "mate_pressure_deg", n)}
        {s.text("Mate's helix, °", "mate_helix_deg", n)}
        {s.text("Mate's face, mm", "mate_face_mm", n)}
        {s.text("Mate off the seat, mm", "mate_at_mm", { ...n, placeholder: "+ to the mark" })}
        {s.text("Shaft distance, mm", "center_mm", n)}
        {s.text("Room, mm", "room_mm", n)}
        {s.text("Splines", "splines", n)}
        {s.text("Across them, mm", "spline_mm", n)}
        {s.text("Bolts", "bolts", n)}
        {s.text("Bolt circle, mm", "circle_mm", n)}
        {s.choice("Mate's hand", "mate_hand", hands, { field: null })}
        {s.choice("Seat or spline is", "worn", wear, { field: null })}
        {s.choice("Mate is", "mate_worn", wear, { field: null })}
      </div>
    </>
  );
}

/** Both ways round, and what speaks for and against each. */
function Ways({ ways }: { ways: FitsAnswer["ways"] }) {
  return (
    <div className={classes.teeth}>
      {ways.map((w) => (
        <div key={w.id}>
          <h3>
            {signs[w.answer]} {w.name}
          </h3>
          <ul className={classes.reasons}>
            {w.reasons.map((r) => (
              <li key={r.id}>
                <b>
                  {signs[r.answer]} {r.name}:
                </b>{" "}
                {r.text}
              </li>
            ))}
          </ul>
        </div>
      ))}
    </div>
  );
}

const signs: Record<string, string> = { yes: "✓", no: "✕", ask: "?" };
const words: Record<string, string> = { yes: "✓ It fits", no: "✕ It does not fit", ask: "? Check first" };

/** Both ways round: where the teeth of gear and mate lie beside each other. */
function Faces({ gear, seat, answer }: { gear: GearForm; seat: SeatForm; answer: FitsAnswer }) {
  const face = number(gear.face_mm);
  const mate = number(seat.mate_face_mm);
  if (!face || !mate) return null;
  const off = number(gear.offset_mm) ?? 0;
  const at = number(seat.mate_at_mm) ?? 0;
  const reach = Math.max(Math.abs(off) + face / 2, Math.abs(at) + mate / 2, 10);
  const k = 104 / reach;
  return (
    <svg
      viewBox="0 0 520 132"
      className={classes.order}
      role="img"
      aria-label={answer.ways.map((w) => `${w.name}: ${w.overlap_mm} mm meet`).join("; ")}
    >
      {answer.ways.map((w, i) => {
        const x = 130 + i * 260;
        const g = i === 0 ? off : -off;
        return (
          <g key={w.id}>
            <path d={`M${x - 110} 66H${x + 110}`} className={classes.mid} />
            <rect x={x + (g - face / 2) * k} y={20} width={face * k} height={40} className={classes.gear} />
            <rect x={x - 9} y={44} width={18} height={22} className={classes.bearing} />
            <rect x={x + (at - mate / 2) * k} y={72} width={mate * k} height={36} className={classes.shimNew} />
            <text x={x} y={128} className={classes.small} textAnchor="middle">
              {w.name}: {w.overlap_mm} mm meet
            </text>
          </g>
        );
      })}
    </svg>
  );
}
