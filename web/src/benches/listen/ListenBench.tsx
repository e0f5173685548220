import { Alert, Button, FileInput, NativeSelect } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { api, Refused, reason, type SoundAnswer, take, type Unit } from "../../api/client";
import { Band } from "../../app/Band";
import { useUnits } from "../../app/units";
import { FileButton } from "../../fields/FileButton";
import { bind } from "../../form/bind";
import { useForm } from "../../form/useForm";
import { chance, fixed, fromKMH, lengthUnit, speedUnit, toMM, typed } from "../../format/numbers";
import { Doors } from "./Doors";
import classes from "./listen.module.css";
import { blank, type Form, questionOf, readSound, type Sound } from "./model";
import { OrderMap } from "./OrderMap";
import { SaveRecording } from "./SaveRecording";
import { usePlay } from "./usePlay";
import { useRecorder } from "./useRecorder";

type Props = {
  store: string;
  title: ReactNode;
  here?: ReactNode;
  known?: Partial<Form>;
  unit?: Unit;
  /** A recording that was saved: it is named at once. */
  saved?: Sound;
};

/** What howls: a recording, its speed and the vehicle in; the source, the order map and what to drive next out. */
export function ListenBench({ store, title, here, known, unit, saved }: Props) {
  const [units] = useUnits();
  const [first] = useState<Form>(() => ({ ...blank, ...known }));
  const { form, set, startOver } = useForm<Form>(store, first);
  const [sound, setSound] = useState<Sound | undefined>(saved);
  const [csv, setCsv] = useState<{ name: string; text: string }>();
  const [trouble, setTrouble] = useState("");
  const ask = useMutation({
    mutationFn: async (s: Sound) => {
      const question = questionOf(s, form, units, csv?.text);
      return { a: await take(api.POST("/calc/listen", { body: question })), question, key: crypto.randomUUID() };
    },
  });
  const { mutate } = ask;
  useEffect(() => {
    if (saved) mutate(saved);
  }, [saved, mutate]);
  const heard = (s: Sound) => {
    setTrouble("");
    setSound(s);
    ask.reset();
  };
  const recorder = useRecorder(heard, setTrouble);
  const choose = (file: File | null) => {
    if (file) readSound(file, file.name).then(heard, (e: Error) => setTrouble(e.message));
  };
  const refused = ask.error instanceof Refused ? ask.error : undefined;
  return (
    <>
      <Band>
        <h1>{title}</h1>
      </Band>
      <main id="main" className="page wide">
        {here}
        <Alert className="caution">
          A passenger records, on an empty or closed road, at lawful speed. The driver only drives.
        </Alert>
        <div className={classes.bench} data-saved={saved !== undefined || undefined}>
          <div className={classes.fields}>
            <div className="row wrap">
              {recorder.seconds === undefined ? (
                <Button
                  onClick={() => {
                    setTrouble("");
                    void recorder.start();
                  }}
                >
                  Record
                </Button>
              ) : (
                <Button color="red" onClick={recorder.stop}>
                  Stop, {recorder.seconds} s
                </Button>
              )}
              {recorder.seconds !== undefined && (
                <span role="status">
                  {recorder.kmh === undefined
                    ? "No speed from this device: choose a file, or enter one below."
                    : `${fixed(fromKMH(recorder.kmh, units), 0)} ${speedUnit(units)}`}
                </span>
              )}
            </div>
            <FileInput
              label="Or a recorded file"
              description="Ten to sixty seconds while the speed changes tell most."
              placeholder="choose a recording"
              accept="audio/*,.wav"
              onChange={choose}
              error={trouble || refused?.within("/sound")}
            />
            {sound && (
              <p role="status">
                {sound.name}: {Math.round(sound.samples.length / sound.rate)} s
                {sound.speed && `, with ${sound.speed.length} speeds`}
              </p>
            )}
            <div className="row wrap">
              <FileButton
                name="Speed file"
                accept=".csv,text/csv"
                variant="default"
                onText={(text, name) => setCsv({ text, name })}
              >
                Speed file (CSV)
              </FileButton>
              {csv && <span>{csv.name}</span>}
            </div>
            {refused?.within("/speed") && <p className="trouble">{refused.within("/speed")}</p>}
            {refused?.within("/speed_csv") && <p className="trouble">{refused.within("/speed_csv")}</p>}
            <VehicleFields form={form} set={set} refused={refused} />
            <div className="row wrap">
              <Button
                disabled={!sound || !typed(form.rolling)}
                loading={ask.isPending}
                onClick={() => sound && ask.mutate(sound)}
              >
                Name the sound
              </Button>
              <Button variant="default" onClick={startOver}>
                Start over
              </Button>
            </div>
            {ask.error && !refused && <p className="trouble">{reason(ask.error)}</p>}
            {refused && <p className="trouble">{refused.message}</p>}
          </div>
          {ask.data && sound ? (
            <Answer a={ask.data.a} sound={sound} unit={unit} rolling={toMM(typed(form.rolling) ?? 0, units) / 1000}>
              {unit && sound !== saved && (
                <SaveRecording key={ask.data.key} unit={unit.id} asked={ask.data.question} id={ask.data.key} />
              )}
            </Answer>
          ) : (
            <p className="dim">
              Record while the speed changes: pull up through the howl, then coast down through it. What turns with the
              wheels follows the speed; what doesn&apos;t, keeps its pitch.
            </p>
          )}
        </div>
      </main>
    </>
  );
}

type FieldsProps = { form: Form; set: (f: Partial<Form>) => void; refused?: Refused };

/** What is known of the vehicle; the less, the more is left open. */
function VehicleFields({ form, set, refused }: FieldsProps) {
  const [units] = useUnits();
  const [more, setMore] = useState(false);
  const f = bind<Form, { [K in keyof Form]: string }>(form, set, refused, { numeric: true });
  return (
    <>
      <div className="two">
        {f.text(`Rolling circumference (${lengthUnit(units)})`, "rolling", {
          placeholder: units === "metric" ? "2190" : "86",
        })}
        {f.text(`Constant speed (${speedUnit(units)})`, "constant", { placeholder: "if it didn't change" })}
        {f.text("Ring teeth", "ring", { placeholder: "if known" })}
        {f.text("Pinion teeth", "pinion", { placeholder: "if known" })}
        {f.text("Or axle ratio, about", "ratio", { placeholder: "4.10" })}
        {f.text("Cylinders", "cylinders", { placeholder: "6" })}
        <NativeSelect
          label="Gear"
          value={form.gear}
          onChange={(e) => set({ gear: e.currentTarget.value as Form["gear"] })}
          data={[
            { value: "direct", label: "straight through (1.00)" },
            { value: "neutral", label: "neutral" },
            { value: "ratio", label: "another gear" },
          ]}
        />
        {form.gear === "ratio" && f.text("Ratio of that gear", "gearRatio", { placeholder: "1.42" })}
      </div>
      <Button variant="subtle" size="compact-md" aria-expanded={more} onClick={() => setMore(!more)}>
        {more ? "Less" : "Gearbox teeth, transfer case, tires, bearings"}
      </Button>
      {more && (
        <div className="two">
          {form.gear === "ratio" &&
            f.text("Gears in mesh, driving/driven", "gearPairs", { words: true, placeholder: "23/37 21/30" })}
          {f.text("Transfer case ratio", "caseRatio", { placeholder: "1" })}
          {f.text("Its gears, driving/driven", "casePairs", { words: true, placeholder: "29/37 21/43" })}
          {f.text("Or planetary low range, sun/ring", "planet", { words: true, placeholder: "30/60" })}
          {f.text("Tread pitches around a tire", "pitches", { placeholder: "58" })}
          {f.text("Wheel bearing", "bearing", { words: true, placeholder: "rear left" })}
          {f.text("Outer race, tones per turn", "outer", { placeholder: "7.30" })}
          {f.text("Inner race, tones per turn", "inner", { placeholder: "11.70" })}
        </div>
      )}
    </>
  );
}

type AnswerProps = { a: SoundAnswer; sound: Sound; rolling: number; unit?: Unit; children: ReactNode };

function Answer({ a, sound, rolling, unit, children }: AnswerProps) {
  const tape = usePlay(sound, a, rolling);
  const [chosen, setChosen] = useState<string>();
  const [units] = useUnits();
  const speed = (kmh: number) => fixed(fromKMH(kmh, units), 0);
  return (
    <section className={classes.answer} aria-live="polite">
      <h2>{a.sentence}</h2>
      {a.state === "told" && a.sources[0] && <p>Right {chance(a.sources[0].chance)}.</p>}
      {a.next.length > 0 && (
        <ul>
          {a.next.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ul>
      )}
      {unit && <Doors unit={unit} a={a} />}
      {children}
      <OrderMap a={a} chosen={chosen} />
      <div className="row wrap">
        <Button size="compact-md" variant="default" onClick={() => (tape.playing ? tape.stop() : tape.play("all"))}>
          {tape.playing ? "Stop" : "Play the recording"}
        </Button>
      </div>
      {a.sources.length > 0 && (
        <ul className={classes.sources}>
          {a.sources.map((s) => (
            <li key={s.name}>
              <span>
                <b>{s.name}</b>
                <br />
                <small className="dim">
                  {s.per_wheel_turn ? `${s.per_wheel_turn} per wheel turn` : "fixed pitch"}
                  {s.per_driveshaft_turn ? `, ${s.per_driveshaft_turn} per driveshaft turn` : ""}, about{" "}
                  {Math.round(s.hz)} Hz, {fixed(s.level_db, 0)} dB over the road
                </small>
              </span>
              <Button
                size="compact-md"
                variant="default"
                aria-label={`Play it: ${s.name}`}
                onClick={() => {
                  setChosen(s.name);
                  tape.play(s.name, s);
                }}
              >
                Play it
              </Button>
            </li>
          ))}
        </ul>
      )}
      <details>
        <summary>Why</summary>
        <p className="dim">
          {a.seconds} s at {speed(a.from_kmh)} to {speed(a.to_kmh)} {speedUnit(units)}, resampled by the wheel&apos;s
          turns. Found tones are {a.scale} times the calculated ones (slip, tire size), the speed is read {a.lag_s} s
          late. Levels are each source&apos;s lines over the noise in a third of an octave. Chances are from drives made
          for the purpose.
        </p>
      </details>
    </section>
  );
}
