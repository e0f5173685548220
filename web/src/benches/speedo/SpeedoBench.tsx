import { Tabs } from "@mantine/core";
import { type ReactNode, useState } from "react";
import type { Doc, SpeedoAnswer, SpeedoRequest } from "../../api/client";
import { Band } from "../../app/Band";
import { useKept } from "../../app/local";
import { useUnits } from "../../app/units";
import { bind } from "../../form/bind";
import { useForm } from "../../form/useForm";
import { fixed, kmPerMile } from "../../format/numbers";
import { distinct, useShop } from "../../shop/useShop";
import { Cautions } from "../answer";
import { TireField, useTire } from "../tire/TireField";
import { CheckPanel } from "./CheckPanel";
import { FittingCard } from "./FittingCard";
import { GearsPanel } from "./GearsPanel";
import { baseOf, gearsOf, noForm, noTrack, type PanelProps, pulsesOf, type SpeedoForm, useSpeedo } from "./model";
import { PulsesPanel } from "./PulsesPanel";

type Props = { store: string; title: ReactNode; here?: ReactNode; name: string; unit?: number; doc?: Doc };

/** Gears, pulses and checks that make a speedometer true. */
export function SpeedoBench({ store, title, here, name, unit, doc }: Props) {
  const { form, set } = useForm<SpeedoForm>(store, noForm);
  const [units] = useUnits();
  const [tab, setTab] = useKept<string>(`${store}.tab`, "gears");
  const [gpx, setGPX] = useState(noTrack);
  const markings = distinct(useShop("tires"), "marking");
  const tire = useTire(form.tire);
  const hasTire =
    Boolean(doc) || Boolean(form.tire.marking.trim() || form.tire.rollout.trim() || form.tire.revs.trim());
  const hasAxle = Boolean(doc) || Boolean(form.axle.trim());
  const base = baseOf(form, doc, units);
  // On the same tire as before, its size doesn't matter.
  const sameTire = !doc && Boolean(form.axleBefore?.trim()) && !form.tireBefore?.trim();
  const gears = useSpeedo(gearsOf(form, base, units), (hasTire || sameTire) && hasAxle);
  const pulses = useSpeedo(pulsesOf(form, base), hasTire && hasAxle && Boolean(form.reluctor.trim()));
  const some = gears.answer ?? pulses.answer;
  const refused = gears.refused ?? pulses.refused;
  const b = bind<SpeedoForm, SpeedoRequest>(form, set, refused);
  const shared: PanelProps = { form, set, unit, name };
  const missing = [
    !hasTire && "the tire: its marking, or what it rolls in a turn",
    !hasAxle && "the axle ratio, for example 41/10",
  ];
  const missingForGears = sameTire ? missing.slice(1) : missing;
  return (
    <>
      <Band className="no-print">
        <h1>{title}</h1>
        {here}
      </Band>
      <main id="main" className="decide">
        <section className="decide-ask no-print" aria-label="Tire and take-off">
          <TireField
            label="Tire on it"
            value={form.tire}
            onChange={(t) => set({ tire: t })}
            placeholder={doc ? "as the driveline has it" : undefined}
            answer={tire.answer ?? (form.tire.marking ? undefined : some?.tire)}
            error={(field) => tire.refused?.at(`/${field}`) ?? refused?.at(`/tire/${field}`)}
            list={markings}
          />
          <TakeOff form={form} b={b} doc={doc} some={some} />
          {some && some.cautions.length > 0 && <Cautions list={some.cautions} />}
        </section>
        <section className="decide-answer">
          <Tabs value={tab} onChange={(t) => t && setTab(t)} keepMounted={false} className="decide-tabs">
            <Tabs.List className="no-print">
              <Tabs.Tab value="gears">Gears and cable</Tabs.Tab>
              <Tabs.Tab value="pulses">Pulses</Tabs.Tab>
              <Tabs.Tab value="check">Check on the road</Tabs.Tab>
              <Tabs.Tab value="fitting">Fitting and rules</Tabs.Tab>
            </Tabs.List>
            <Tabs.Panel value="gears">
              <GearsPanel {...shared} ask={gearsOf(form, base, units)} result={gears} missing={missingForGears} />
            </Tabs.Panel>
            <Tabs.Panel value="pulses">
              <PulsesPanel {...shared} ask={pulsesOf(form, base)} result={pulses} missing={missing} />
            </Tabs.Panel>
            <Tabs.Panel value="check">
              <CheckPanel {...shared} gpx={gpx} setGPX={setGPX} />
            </Tabs.Panel>
            <Tabs.Panel value="fitting">
              <FittingCard answer={gears.answer} />
            </Tabs.Panel>
          </Tabs>
        </section>
      </main>
    </>
  );
}

interface TakeOffProps {
  form: SpeedoForm;
  b: ReturnType<typeof bind<SpeedoForm, SpeedoRequest>>;
  doc?: Props["doc"];
  some?: SpeedoAnswer;
}

/** The shaft that drives the speedometer, and how it turns on the road. */
function TakeOff({ form, b, doc, some }: TakeOffProps) {
  return (
    <>
      {doc
        ? b.choice(
            "Speedometer is driven from",
            "takeOff",
            [
              {
                value: "",
                label: `the usual shaft${some?.take_off && !form.takeOff ? ` (${some.take_off.name})` : ""}`,
              },
              ...(some?.take_offs.map((t) => ({
                value: t.shaft,
                label: `${t.name}${t.low ? " · changes with the range" : ""}`,
              })) ?? []),
            ],
            { field: "take_off" },
          )
        : b.text("Axle ratio", "axle", {
            placeholder: "41/10",
            description: "take-off turns per wheel turn, where it is at the gearbox or transfer case output",
          })}
      {some?.take_off && (
        <p className="tire-understood">
          <span>
            The shaft turns <b>{fixed(some.take_off.turns_per_km.decimal, 1)}</b> times a km,{" "}
            <b>{fixed(some.take_off.turns_per_km.decimal * kmPerMile, 1)}</b> a mile
          </span>
          <em>{some.take_off.formula}</em>
          {some.take_off.low && <em>It is ahead of the low range: in low it turns faster for the same road.</em>}
        </p>
      )}
    </>
  );
}
