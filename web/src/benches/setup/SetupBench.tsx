import { Tabs } from "@mantine/core";
import type { ReactNode } from "react";
import { useSearchParams } from "react-router";
import type { Part, SetupQuestion } from "../../api/client";
import { Band } from "../../app/Band";
import { useKept } from "../../app/local";
import { useUnits } from "../../app/units";
import { useLast } from "../useLast";
import { FitsPanel } from "./FitsPanel";
import { InsidePanel } from "./InsidePanel";
import { type Form, formOf, noForm } from "./model";
import { PinionPanel } from "./PinionPanel";
import { TrialsPanel } from "./TrialsPanel";

type Props = { store: string; title: ReactNode; here?: ReactNode; unit?: number; part?: Part };

/** Every trial of a ring and pinion, what it says, and what to move next. */
export function SetupBench({ store, title, here, unit, part }: Props) {
  const [kept, keep] = useKept<Form | null>(store, null);
  const [before, setWas] = useKept<string>(`${store}.tab`, "trials");
  const [query, setQuery] = useSearchParams();
  const tab = query.get("tab") ?? before;
  const setTab = (t: string) => {
    setWas(t);
    setQuery(
      (q) => {
        q.delete("tab");
        return q;
      },
      { replace: true },
    );
  };
  const last = useLast(unit, "setup");
  const was = (last?.question as unknown as SetupQuestion | undefined)?.axle;
  const mine = was && (was.part ?? "") === (part?.id ?? "") ? was : undefined;
  const [units] = useUnits();
  const begun: Form = {
    ...noForm,
    unit: units === "inch" ? "in" : "mm",
    ring: String(part?.axle?.ring || ""),
    pinion: String(part?.axle?.pinion || ""),
    ring_side: part?.axle?.ring_side ?? "",
    family: part?.family ?? "",
  };
  const form: Form = kept ? { ...begun, ...kept } : mine ? formOf(mine) : begun;
  const set = (v: Partial<Form>) => keep({ ...form, ...v });
  return (
    <>
      <Band className="no-print">
        <h1>{title}</h1>
        {here}
      </Band>
      <main id="main" className="page wide">
        <Tabs value={tab} onChange={(t) => t && setTab(t)} keepMounted={false} className="decide-tabs">
          <Tabs.List className="no-print">
            <Tabs.Tab value="trials">Trials</Tabs.Tab>
            <Tabs.Tab value="pinion">Pinion: marks and stack</Tabs.Tab>
            <Tabs.Tab value="inside">Carrier and differential</Tabs.Tab>
            <Tabs.Tab value="fits">Does it fit?</Tabs.Tab>
          </Tabs.List>
          <Tabs.Panel value="trials">
            <TrialsPanel
              form={form}
              set={set}
              unit={unit}
              part={part?.id}
              from={!kept && mine && last ? { by: last.by, at: last.at } : undefined}
              newer={
                kept && mine && last && mine.trials.length > form.trials.length
                  ? { by: last.by, trials: mine.trials.length, take: () => keep(null) }
                  : undefined
              }
              anew={() => keep(begun)}
            />
          </Tabs.Panel>
          <Tabs.Panel value="pinion">
            <PinionPanel store={store} unit={unit} form={form} setBox={(box) => set({ box })} />
          </Tabs.Panel>
          <Tabs.Panel value="inside">
            <InsidePanel store={store} unit={unit} form={form} />
          </Tabs.Panel>
          <Tabs.Panel value="fits">
            <FitsPanel store={store} unit={unit} />
          </Tabs.Panel>
        </Tabs>
      </main>
    </>
  );
}
