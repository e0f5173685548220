import { Tabs } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { type ReactNode, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { ChangeGearsAnswer, ChangeGearsRequest, Doc, Refused } from "../../api/client";
import { Band } from "../../app/Band";
import { useKept } from "../../app/local";
import { useUnits } from "../../app/units";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { useForm } from "../../form/useForm";
import { change, fixed, speedUnit } from "../../format/numbers";
import { distinct, useShop } from "../../shop/useShop";
import { AnswerPlate, Asks, Cautions } from "../answer";
import { CardDoor } from "../cards/CardDoor";
import { TireField, useTire } from "../tire/TireField";
import classes from "./changegear.module.css";
import { DirectionPanel } from "./DirectionPanel";
import { EventPanel } from "./EventPanel";
import { GearsPanel } from "./GearsPanel";
import { Housing } from "./Housing";
import { Ladder } from "./Ladder";
import { baseOf, type Form, type GoalKind, noForm, useChangeGears } from "./model";
import { OrderPanel } from "./OrderPanel";
import { RunPanel } from "./RunPanel";

type Props = {
  store: string;
  title: ReactNode;
  here?: ReactNode;
  name: string;
  unit?: number;
  doc?: Doc;
  /** Where the gears that are in it are counted. */
  count?: number;
};

/** Which change gears: the ladder of the shelf, the pick for a goal, and what came of it at the track. */
export function ChangeGearBench({ store, title, here, name, unit, doc, count }: Props) {
  const { form, set } = useForm<Form>(store, noForm);
  const [units] = useUnits();
  const [tab, setTab] = useKept<string>(`${store}.tab`, "ladder");
  const [taken, setTaken] = useState<number>();
  const navigate = useNavigate();
  useHotkeys([["c", () => unit && count && navigate(`/stages/${count}`)]]);
  const ask = baseOf(form, units, doc);
  const ready = Boolean(doc) || Boolean(form.base.trim());
  const { answer, refused, error } = useChangeGears(ask, ready);
  const at = taken !== undefined && answer && taken < answer.ladder.length ? taken : rungAt(answer);
  const rung = answer?.ladder[at];
  const way = rung?.ways[0];
  return (
    <>
      <Band className="no-print">
        <h1>{title}</h1>
        {here}
      </Band>
      <main id="main" className="decide">
        <Ask form={form} set={set} doc={doc} unit={unit} count={count} answer={answer} refused={refused} />
        <section className="decide-answer">
          {!answer && (
            <Waiting
              title="The ladder of gears on your shelf"
              missing={[!ready && "the base ratio, for example 38/9"]}
              error={error}
            />
          )}
          {answer && (
            <>
              <Plate answer={answer} />
              <Asks list={answer.asks} />
              <Asks list={answer.notes} mark="△" />
              <Tabs value={tab} onChange={(t) => t && setTab(t)} keepMounted={false} className="decide-tabs">
                <Tabs.List className="no-print">
                  <Tabs.Tab value="ladder">Ladder</Tabs.Tab>
                  <Tabs.Tab value="gears">Every gear</Tabs.Tab>
                  <Tabs.Tab value="direction">Direction</Tabs.Tab>
                  <Tabs.Tab value="card">Swap, step by step</Tabs.Tab>
                  <Tabs.Tab value="event">Event</Tabs.Tab>
                  <Tabs.Tab value="run">Recorded run</Tabs.Tab>
                  <Tabs.Tab value="order">Order sheet</Tabs.Tab>
                </Tabs.List>
                <Tabs.Panel value="ladder">
                  <div className={classes.two}>
                    <Ladder answer={answer} at={at} onTake={setTaken} />
                    {way && (
                      <div>
                        <Housing input={way.input} pinion={way.pinion} over={answer.shafts.includes("turned over")} />
                        <p>{answer.shafts}</p>
                        {answer.swap && <p>{answer.swap.text}</p>}
                        <Cautions list={answer.cautions} />
                      </div>
                    )}
                  </div>
                </Tabs.Panel>
                <Tabs.Panel value="gears">
                  <GearsPanel answer={answer} at={at} name={name} />
                </Tabs.Panel>
                <Tabs.Panel value="direction">
                  <DirectionPanel answer={answer} form={form} set={set} refused={refused} />
                </Tabs.Panel>
                <Tabs.Panel value="card">
                  <CardDoor card="change_gears" title="Swap change gears" unit={unit} />
                </Tabs.Panel>
                <Tabs.Panel value="event">
                  <EventPanel answer={answer} ask={ask} form={form} set={set} unit={unit} way={way} />
                </Tabs.Panel>
                <Tabs.Panel value="run">
                  <RunPanel answer={answer} ask={ask} form={form} set={set} />
                </Tabs.Panel>
                <Tabs.Panel value="order">
                  <OrderPanel answer={answer} form={form} set={set} name={name} />
                </Tabs.Panel>
              </Tabs>
            </>
          )}
        </section>
      </main>
    </>
  );
}

/** The rung that is shown first: the pick, else what is installed. */
function rungAt(answer?: ChangeGearsAnswer): number {
  return Math.max(0, answer?.pick?.chosen?.rung ?? answer?.ladder.findIndex((r) => r.fitted) ?? 0);
}

/** The answer first. */
function Plate({ answer }: { answer: ChangeGearsAnswer }) {
  const p = answer.pick;
  return (
    <AnswerPlate>
      <div>
        <p className="decide-kicker">
          {p ? "For this goal" : "As it is"} · base {answer.base.label} ({answer.base_words})
        </p>
        <h2>
          {p
            ? p.sentence
            : answer.overall && answer.fitted
              ? `${answer.overall.label} overall with ${answer.fitted.input} on the input and ${answer.fitted.pinion} on the pinion shaft.${answer.swap ? ` ${answer.swap.head}` : ""}`
              : "Enter the gears installed now."}
        </h2>
        {p?.missing && p.missing !== p.sentence && <p>{p.missing}</p>}
        {p && p.why.length > 0 && <p className="decide-sure">{p.why.join(" ")}</p>}
        {p && p.buy.length > 0 && <p>To buy for it: {p.buy.map((b) => b.text).join("; or ")}.</p>}
        {p?.formula && <small>{p.formula}</small>}
      </div>
      {answer.direction && (
        <p className={answer.direction.forward ? classes.forward : classes.backward}>
          <b>{answer.direction.forward ? "→ drives forward" : "← DRIVES BACKWARD"}</b>
          <small>{answer.direction.forward ? "as it is mounted" : "check Direction before you bolt anything in"}</small>
        </p>
      )}
    </AnswerPlate>
  );
}

const goals: [GoalKind, string][] = [
  ["speed", "Top speed"],
  ["exit", "Corner exit"],
  ["gear", "One gear"],
  ["step", "A step"],
];

type AskProps = {
  form: Form;
  set: (v: Partial<Form>) => void;
  doc?: Doc;
  unit?: number;
  count?: number;
  answer?: ChangeGearsAnswer;
  refused?: Refused;
};

/** What is there, and what is wanted. */
function Ask({ form, set, doc, unit, count, answer, refused }: AskProps) {
  const [units] = useUnits();
  const markings = distinct(useShop("tires"), "marking");
  const tire = useTire(form.tire);
  const speed = speedUnit(units);
  const f = bind<Form, ChangeGearsRequest>(form, set, refused, { numeric: true });
  return (
    <section className="decide-ask no-print" aria-label="What is there and what is wanted">
      {!doc && (
        <>
          {f.text("Base ratio (ring ÷ pinion)", "base", { placeholder: "38/9" })}
          {f.text("Gearbox ratios, first gear first", "gears", { placeholder: "2.36 1.59 1.19 1" })}
          {f.text("Sets in the van", "shelf", { placeholder: "24-21, 23-22, 26-19" })}
        </>
      )}
      <div className="two">
        {f.text("Installed now: input gear", "input", {
          field: "fitted/input",
          placeholder: answer?.fitted ? String(answer.fitted.input) : "teeth",
        })}
        {f.text("Installed now: pinion gear", "pinion", {
          field: "fitted/pinion",
          placeholder: answer?.fitted ? String(answer.fitted.pinion) : "teeth",
        })}
      </div>
      {unit && count && (
        <p className="dim">
          <Link to={`/stages/${count}`}>Count or turn what is installed</Link> at its own bench.
        </p>
      )}
      <Goal form={form} f={f} speed={speed} />
      <div className="two">
        {f.choice(
          "in gear",
          "gear",
          [
            {
              value: "",
              label: answer && !form.gear ? `the straight-through one (${answer.gear})` : "the straight-through one",
            },
            ...(answer?.gears ?? []).map((g) => ({ value: g, label: g })),
          ],
          { field: "goal/gear" },
        )}
        {f.text("Show road speed at (rpm)", "rpm", { placeholder: "7000" })}
      </div>
      <TireField
        label="Tire"
        value={form.tire}
        onChange={(t) => set({ tire: t })}
        placeholder={doc ? "as the driveline has it" : "26.0/10.0-15"}
        answer={tire.answer}
        error={(field) => tire.refused?.at(`/${field}`) ?? refused?.field(`/tire/${field}`)}
        list={markings}
      />
      <div className="two">
        {f.text("Grows at speed by, %", "growth", { field: "growth_percent", placeholder: "0" })}
        {f.text("Engine torque, N·m", "torque", { field: "torque_nm", placeholder: "for thrust" })}
      </div>
      {answer?.rolling_mm && (
        <p className="dim">
          Rolls {fixed(answer.rolling_mm.decimal, 0)} mm a turn, ± {change(answer.spread_percent).replace("+", "")}
        </p>
      )}
    </section>
  );
}

interface GoalProps {
  form: Form;
  f: ReturnType<typeof bind<Form, ChangeGearsRequest>>;
  speed: string;
}

/** What is asked of the gears. */
function Goal({ form, f, speed }: GoalProps) {
  return (
    <>
      {f.segments(
        "Wanted",
        "goal",
        goals.map(([value, label]) => ({ value, label })),
      )}
      {form.goal === "step" ? (
        f.segments(
          "One step",
          "toward",
          [
            { value: "shorter", label: "one step shorter" },
            { value: "taller", label: "one step taller" },
          ],
          { bare: true },
        )
      ) : (
        <div className="two">
          {f.text(form.goal === "exit" ? `Exit ${speed}` : `Speed, ${speed}`, "kmh", {
            field: "goal/kmh",
            placeholder: "180",
          })}
          {f.text("at rpm", "goalRPM", { field: "goal/rpm", placeholder: "7000" })}
        </div>
      )}
      {form.goal === "gear" && (
        <div className="two">
          {f.text(`Slowest, ${speed}`, "lowKMH", { field: "goal/low_kmh", placeholder: "70" })}
          {f.text("rpm not under", "lowRPM", { field: "goal/low_rpm", placeholder: "3500" })}
        </div>
      )}
    </>
  );
}
