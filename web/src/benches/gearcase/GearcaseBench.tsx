import { Tabs } from "@mantine/core";
import type { ReactNode } from "react";
import type { UnitDriveline } from "../../api/client";
import { Band } from "../../app/Band";
import { useKept } from "../../app/local";
import { useUnits } from "../../app/units";
import { useForm } from "../../form/useForm";
import { InspectPanel } from "./InspectPanel";
import { type Form, inInches, noForm } from "./model";
import { PlayPanel } from "./PlayPanel";
import { ShimsPanel } from "./ShimsPanel";

type Props = {
  store: string;
  title: ReactNode;
  here?: ReactNode;
  unit?: number;
  teeth?: { gear?: number; pinion?: number };
  /** The boat's driveline, where the sealing places of its case are kept. */
  line?: UnitDriveline;
};

/** From the stamp on the case to a backlash that is good, and what is looked at on the way. */
export function GearcaseBench({ store, title, here, unit, teeth, line }: Props) {
  const [units] = useUnits();
  const { form, set } = useForm<Form>(store, units === "inch" ? inInches : noForm);
  const [tab, setTab] = useKept<string>(`${store}.tab`, "shims");
  return (
    <>
      <Band className="no-print">
        <h1>{title}</h1>
        {here}
      </Band>
      <main id="main" className="page wide">
        <Tabs value={tab} onChange={(t) => t && setTab(t)} keepMounted={false} className="decide-tabs">
          <Tabs.List className="no-print">
            <Tabs.Tab value="shims">Shims by the stamp</Tabs.Tab>
            <Tabs.Tab value="play">Backlash</Tabs.Tab>
            <Tabs.Tab value="inspect">While the gearcase is apart</Tabs.Tab>
          </Tabs.List>
          <Tabs.Panel value="shims">
            <ShimsPanel form={form} set={set} unit={unit} />
          </Tabs.Panel>
          <Tabs.Panel value="play">
            <PlayPanel form={form} set={set} unit={unit} teeth={teeth} />
          </Tabs.Panel>
          <Tabs.Panel value="inspect">
            <InspectPanel form={form} set={set} unit={unit} line={line} />
          </Tabs.Panel>
        </Tabs>
      </main>
    </>
  );
}
