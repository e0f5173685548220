import { Button } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { api, type InstrumentsRecorded, type PropAnswer, type PropRequest, type Refused, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { Band } from "../../app/Band";
import { useMaySave, useSession } from "../../app/session";
import { Waiting } from "../../app/Waiting";
import { FileButton } from "../../fields/FileButton";
import { bind } from "../../form/bind";
import { useForm } from "../../form/useForm";
import { fixed } from "../../format/numbers";
import { AnswerPlate, Cautions } from "../answer";
import { figure, number } from "../tire/model";
import { useDecide } from "../useDecide";
import { LivePanel } from "./LivePanel";
import classes from "./propeller.module.css";

/** Everything that was typed at the bench; text until the server reads it. */
export type Form = {
  ratio: string;
  pitch: string;
  hull: string;
  rpm: string;
  /** The propeller shaft's own, where it is read there. */
  shaft: string;
  rpmSure: string;
  speed: string;
  speedSure: string;
  unit: "kn" | "km/h" | "mph";
  over: "ground" | "water";
  full: string;
  low: string;
  high: string;
  want: string;
  other: string;
};

const noForm: Form = {
  ratio: "",
  pitch: "",
  hull: "skiff",
  rpm: "",
  shaft: "",
  rpmSure: "",
  speed: "",
  speedSure: "",
  unit: "kn",
  over: "ground",
  full: "",
  low: "",
  high: "",
  want: "",
  other: "",
};

const perKnot = { kn: 1, "km/h": 1.852, mph: 1.150779 };

type Props = {
  store: string;
  title: ReactNode;
  here?: ReactNode;
  unit?: number;
  ratio?: string;
  pitch?: number;
};

function ask(f: Form, ratio?: string, pitch?: number): PropRequest {
  const kn = (s: string) => number(s, (v) => Math.round((v / perKnot[f.unit]) * 1e4) / 1e4);
  return {
    ratio: figure(f.ratio) ?? ratio,
    shaft_rpm: number(f.shaft),
    pitch_in: number(f.pitch) ?? pitch ?? 0,
    hull: f.hull,
    rpm: number(f.rpm),
    rpm_sure: number(f.rpmSure),
    speed_kn: kn(f.speed),
    speed_sure_kn: kn(f.speedSure),
    over: f.over,
    full_rpm: number(f.full),
    band_low_rpm: number(f.low),
    band_high_rpm: number(f.high),
    want_kn: kn(f.want),
    other_ratio: figure(f.other),
  };
}

/** Slip at a steady moment, full throttle against the maker's WOT range, and the instruments live. */
export function PropellerBench({ store, title, here, unit, ratio, pitch }: Props) {
  const { form, set } = useForm<Form>(store, noForm);
  const person = useSession().data?.person;
  const q = ask(form, ratio, pitch);
  const missing = [
    !(form.ratio.trim() || ratio || form.shaft.trim()) && "the gearcase's ratio, as 27/13",
    !(form.pitch.trim() || pitch) && "the propeller's pitch, read off its hub",
  ];
  const ready = missing.every((m) => !m);
  const { answer, refused, error } = useCalc(
    key.propeller,
    q,
    (body, signal) => take(api.POST("/calc/propeller", { body, signal })),
    {
      ready,
    },
  );
  const takeRun = (s: NonNullable<InstrumentsRecorded["steady"]>) =>
    set({
      rpm: s.of_shaft ? "" : fixed(s.rpm, 0),
      shaft: s.of_shaft ? fixed(s.rpm, 0) : "",
      rpmSure: fixed(s.rpm_sure, 1),
      speed: fixed(s.speed_kn * perKnot[form.unit], 2),
      speedSure: fixed(s.speed_sure_kn * perKnot[form.unit], 3),
      over: "ground",
    });
  return (
    <>
      <Band className="no-print">
        <h1>{title}</h1>
        {here}
      </Band>
      <main id="main" className="decide">
        <Ask form={form} set={set} ratio={ratio} pitch={pitch} refused={refused} />
        <section className="decide-answer">
          {!answer && <Waiting title="Slip, pitch and ratio" missing={missing} error={error} />}
          {answer && <Plate answer={answer} q={q} unit={unit} />}
          {person && <LivePanel q={q} answer={answer} onTake={takeRun} />}
          <Recorded onTake={takeRun} />
          {answer && answer.steps.length > 0 && <Steps answer={answer} />}
          {answer && <Cautions list={answer.cautions} />}
        </section>
      </main>
    </>
  );
}

function Plate({ answer, q, unit }: { answer: PropAnswer; q: PropRequest; unit?: number }) {
  const maySave = useMaySave();
  const record = useDecide(unit);
  return (
    <AnswerPlate>
      <div>
        <p className="decide-kicker">
          {{
            good: "✓ as it should be",
            low: "? lower than usual",
            high: "△ higher than usual",
            impossible: "✕ can't be",
            open: "to be measured",
          }[answer.verdict] ?? ""}
        </p>
        <h2>{answer.sentence}</h2>
        {answer.slip_spread_percent !== undefined && (
          <p className="decide-sure">± {fixed(answer.slip_spread_percent, 1)} % by what rpm and speed are known to.</p>
        )}
        {answer.why.length > 0 && (
          <ul className={classes.why}>
            {answer.why.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
        )}
        {answer.want_text && <p>{answer.want_text}</p>}
        {answer.full && <p>{answer.full}</p>}
        {answer.formula && <small>{answer.formula}</small>}
      </div>
      <div className={classes.side}>
        {answer.theoretical_kn !== undefined && (
          <p>
            <small>without slip</small>
            <b>{fixed(answer.theoretical_kn, 1)} kn</b>
          </p>
        )}
        {answer.prop_rpm !== undefined && (
          <p>
            <small>propeller</small>
            <b>{fixed(answer.prop_rpm, 0)} rpm</b>
          </p>
        )}
        {unit !== undefined && answer.slip_percent !== undefined && (
          <Button
            size="compact-sm"
            disabled={!maySave}
            loading={record.isPending}
            onClick={() => record.mutate({ kind: "propeller", propeller: q })}
          >
            Save this run
          </Button>
        )}
        {record.error && <p className="trouble">{record.error.message}</p>}
      </div>
    </AnswerPlate>
  );
}

const fits: Record<string, string> = {
  in: "✓ within the WOT range",
  partly: "~ partly within the WOT range",
  below: "↓ below the WOT range",
  above: "↑ above the WOT range",
};

function Steps({ answer }: { answer: PropAnswer }) {
  return (
    <>
      <h2>What another pitch or ratio would do at full throttle</h2>
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">Change</th>
            <th scope="col" className="num">
              rpm to expect
            </th>
            <th scope="col">against the WOT range</th>
            <th scope="col" className="num">
              kn without slip
            </th>
          </tr>
        </thead>
        <tbody>
          {answer.steps.map((s) => (
            <tr key={s.what}>
              <th scope="row">{s.what}</th>
              <td className="num">
                {fixed(s.low_rpm, 0)} to {fixed(s.high_rpm, 0)}
              </td>
              <td>{fits[s.fits] ?? "–"}</td>
              <td className="num">{fixed(s.kn, 1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="dim">Rule of thumb: 150 to 200 rpm for each inch of pitch. A test run decides.</p>
    </>
  );
}

/** A recorded file of the instruments' sentences. */
function Recorded({ onTake }: { onTake: (s: NonNullable<InstrumentsRecorded["steady"]>) => void }) {
  const read = useMutation({
    mutationFn: (text: string) => take(api.POST("/calc/propeller/recorded", { body: { text } })),
  });
  const steady = read.data?.steady;
  return (
    <div className={classes.recorded}>
      <FileButton
        name="Recorded instruments"
        accept=".txt,.log,.nmea,text/plain"
        variant="default"
        size="compact-sm"
        loading={read.isPending}
        onText={(text) => read.mutate(text)}
      >
        Read a recorded file
      </FileButton>
      <span className={read.error ? "trouble" : "dim"}>
        {read.error?.message ?? read.data?.text ?? "NMEA 0183 sentences, as a plotter or a gateway writes them."}
      </span>
      {steady && (
        <Button size="compact-sm" onClick={() => onTake(steady)}>
          Use its steady run
        </Button>
      )}
    </div>
  );
}

type AskProps = {
  form: Form;
  set: (v: Partial<Form>) => void;
  ratio?: string;
  pitch?: number;
  refused?: Refused;
};

function Ask({ form, set, ratio, pitch, refused }: AskProps) {
  const f = bind<Form, PropRequest>(form, set, refused, { numeric: true });
  return (
    <section className="decide-ask no-print" aria-label="Boat and run">
      <div className="two">
        {f.text("Gearcase ratio", "ratio", { placeholder: ratio ?? "27/13" })}
        {f.text("Pitch, inches", "pitch", { field: "pitch_in", placeholder: pitch ? String(pitch) : "17" })}
      </div>
      {f.choice("Hull", "hull", [
        { value: "skiff", label: "light planing skiff" },
        { value: "planing", label: "planing boat, loaded" },
        { value: "cruiser", label: "semi-displacing cruiser" },
        { value: "tender", label: "ferry tender or work boat" },
        { value: "displacement", label: "displacement hull" },
      ])}
      <div className="two">
        {f.text("Engine rpm, steady", "rpm", { placeholder: "5000" })}
        {f.text(`Speed, ${form.unit}`, "speed", { field: "speed_kn", placeholder: "29" })}
      </div>
      {f.text("Propeller shaft rpm, if read there", "shaft", { field: "shaft_rpm", placeholder: "needs no ratio" })}
      <div className="two">
        {f.choice("Speeds in", "unit", ["kn", "km/h", "mph"], { field: null })}
        {f.segments("Speed over", "over", ["ground", "water"])}
      </div>
      {f.text(`Target speed, ${form.unit}`, "want", { field: "want_kn", placeholder: "what rpm would that be?" })}
      {f.text("Full throttle reached, rpm", "full", { field: "full_rpm", placeholder: "usual load" })}
      <div className="two">
        {f.text("WOT rpm range from", "low", { field: "band_low_rpm", placeholder: "rpm" })}
        {f.text("to", "high", { field: "band_high_rpm", placeholder: "rpm" })}
      </div>
      {f.text("Another gearcase to compare", "other", { field: "other_ratio", placeholder: "2.31" })}
    </section>
  );
}
