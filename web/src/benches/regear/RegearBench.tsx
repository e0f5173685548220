import { Button, Tabs, Textarea, TextInput } from "@mantine/core";
import { IconFileText, IconPrinter } from "@tabler/icons-react";
import { useMutation } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense, useState } from "react";
import { api, type Doc, type RegearPlan, type RegearRequest, take } from "../../api/client";
import { Band } from "../../app/Band";
import { useMaySave } from "../../app/session";
import { useUnits } from "../../app/units";
import { Waiting } from "../../app/Waiting";
import { useForm } from "../../form/useForm";
import { money } from "../../format/numbers";
import { distinct, useShop } from "../../shop/useShop";
import { Cautions } from "../answer";
import { GearsTable } from "../driveline/Tables";
import { figure } from "../tire/model";
import { TireField, useTire, useTireChange } from "../tire/TireField";
import { TirePicture } from "../tire/TirePicture";
import { useDecide } from "../useDecide";
import { Choices, ChoicesKept } from "./Choices";
import { EstimateTable, WhileOpen } from "./Estimate";
import { GearRows } from "./GearRows";
import { noForm, type RegearForm, requestOf, usePlan } from "./model";
import { OtherTires } from "./OtherTires";
import classes from "./regear.module.css";
import { TiresAlone } from "./TiresAlone";
import { UseFields } from "./UseFields";
import { Verdict } from "./Verdict";

const Curves = lazy(() => import("./Curves").then((m) => ({ default: m.Curves })));

type Props = { store: string; title: ReactNode; here?: ReactNode; name: string; unit?: number; doc?: Doc };

/** The tires changed: what that does, and which ring and pinion to fit. */
export function RegearBench({ store, title, here, name, unit, doc }: Props) {
  const { form: f, set } = useForm<RegearForm>(store, noForm);
  const [units] = useUnits();
  const markings = distinct(useShop("tires"), "marking");
  const sets = useShop("gear_sets").filter((r) => r.kind === "ring_and_pinion");
  const families = distinct(sets, "family");
  const old = useTire(f.old);
  const fresh = useTire(f.fresh);
  const axle = figure((f.plain.rear || f.plain.front).replace(/\s*[:x-]\s*/, "/"));
  const { change, refused: axleRefused } = useTireChange(f.old, f.fresh, doc ? undefined : axle);
  const request = requestOf(f, doc, units);
  const hasNew = Boolean(f.fresh.marking.trim() || f.fresh.rollout.trim() || f.fresh.revs.trim());
  const hasOld = Boolean(doc) || Boolean(f.old.marking.trim() || f.old.rollout.trim() || f.old.revs.trim());
  const hasGears =
    Boolean(doc) || Boolean((f.plain.gears.trim() || f.plain.typical) && (f.plain.rear.trim() || f.plain.front.trim()));
  const { plan, refused, error } = usePlan(request, hasNew && hasOld && hasGears);
  const at = (prefix: string) => (field: string) => refused?.field(`/${prefix}/${field}`);
  return (
    <>
      <Band className="no-print">
        <h1>{title}</h1>
        {here}
      </Band>
      <main id="main" className="decide">
        <section className="decide-ask no-print" aria-label="Tires and use">
          <TireField
            label="Tires before"
            value={f.old}
            onChange={(t) => set({ old: t })}
            placeholder={doc ? "as the driveline has them" : undefined}
            answer={old.answer ?? (f.old.marking ? undefined : plan?.old_tire)}
            error={(field) => old.refused?.at(`/${field}`) ?? at("old_tire")(field)}
            list={markings}
          />
          <TireField
            label="Tires now"
            value={f.fresh}
            onChange={(t) => set({ fresh: t })}
            answer={fresh.answer}
            error={(field) => fresh.refused?.at(`/${field}`) ?? at("new_tire")(field)}
            list={markings}
          />
          {!doc && (
            <TextInput
              label="Axle ratio now"
              placeholder="3.73 or 41/11"
              inputMode="decimal"
              value={f.plain.rear}
              onChange={(e) => set({ plain: { ...f.plain, rear: e.currentTarget.value } })}
              error={axleRefused?.at("/axle") ?? refused?.within("/plain/rear")}
            />
          )}
          <TirePicture old={old.answer ?? plan?.old_tire} fresh={fresh.answer} />
          <UseFields families={families} form={f} set={set} plan={plan} doc={doc} refused={refused} />
        </section>
        <section className="decide-answer" aria-live="polite">
          {plan ? (
            <Answer plan={plan} request={request} form={f} set={set} name={name} unit={unit} />
          ) : (
            <>
              {change && !error && <TiresAlone change={change} />}
              {doc && !hasNew && <Today doc={doc} name={name} />}
              <Waiting
                title={change ? "Which gears to fit" : "Tires changed: what that does, and which gears to fit"}
                missing={[
                  !hasNew && "Enter the new tire size",
                  !hasOld && "the old tire size",
                  !doc && !f.plain.rear.trim() && !f.plain.front.trim() && "the axle ratio",
                  !doc && !f.plain.gears.trim() && !f.plain.typical && "a gearbox, under Driveline",
                ]}
                error={error}
              />
            </>
          )}
        </section>
      </main>
    </>
  );
}

/** What a unit has today, before another tire is entered. */
function Today({ doc, name }: { doc: Doc; name: string }) {
  return (
    <section aria-label="Today">
      <h2>Today: gears, speeds and rpm</h2>
      <GearsTable doc={doc} state={asItStarts} name={name} />
    </section>
  );
}

const asItStarts = {};

function Answer({
  plan,
  request,
  form,
  set,
  name,
  unit,
}: {
  plan: RegearPlan;
  request: RegearRequest;
  form: RegearForm;
  set: (v: Partial<RegearForm>) => void;
  name: string;
  unit?: number;
}) {
  const currency = plan.currency ?? "";
  const [tab, setTab] = useState<string | null>("why");
  return (
    <>
      <Verdict plan={plan} />
      <Tabs value={tab} onChange={setTab} keepMounted={false} className="decide-tabs">
        <Tabs.List className="no-print">
          <Tabs.Tab value="why">Why</Tabs.Tab>
          <Tabs.Tab value="choices">Choices</Tabs.Tab>
          <Tabs.Tab value="gears">Gears</Tabs.Tab>
          <Tabs.Tab value="curves">Curves</Tabs.Tab>
          <Tabs.Tab value="money">Estimate</Tabs.Tab>
          <Tabs.Tab value="other">Other tires</Tabs.Tab>
        </Tabs.List>
        <Tabs.Panel value="why">
          <ChoicesKept plan={plan} chosen={form.chosen} onBack={() => set({ chosen: "" })} />
        </Tabs.Panel>
        <Tabs.Panel value="choices">
          <Choices plan={plan} chosen={form.chosen} onChoose={(id) => set({ chosen: id })} />
        </Tabs.Panel>
        <Tabs.Panel value="gears">
          <GearRows plan={plan} name={name} />
        </Tabs.Panel>
        <Tabs.Panel value="curves">
          <Suspense fallback={<p className="dim">Drawing …</p>}>
            <Curves plan={plan} name={name} />
          </Suspense>
        </Tabs.Panel>
        <Tabs.Panel value="money">
          <EstimateTable plan={plan} />
          <WhileOpen items={plan.while_open} />
          <SaveOrPrint request={request} currency={currency} name={name} unit={unit} />
          {unit === undefined && (
            <p className="dim">With a unit, this choice is saved in its history with the figures behind it.</p>
          )}
          <Cautions list={plan.cautions} />
          <p className={classes.printOnly}>
            {name}: {money(plan.estimate.low.decimal, currency)} to {money(plan.estimate.high.decimal, currency)}
          </p>
        </Tabs.Panel>
        <Tabs.Panel value="other">
          <OtherTires plan={plan} />
        </Tabs.Panel>
      </Tabs>
    </>
  );
}

interface SaveProps {
  request: RegearRequest;
  currency: string;
  name: string;
  unit?: number;
}

/** The choice kept with its unit, and its sheet. */
function SaveOrPrint({ request, currency, name, unit }: SaveProps) {
  const maySave = useMaySave();
  const [note, setNote] = useState("");
  const record = useDecide(unit, () => setNote(""));
  const sheet = useMutation({
    mutationFn: async () => {
      const b = await take(
        api.POST("/calc/regear/pdf", { body: { regear: request, title: name, currency }, parseAs: "blob" }),
      );
      const url = URL.createObjectURL(b as unknown as Blob);
      const a = document.createElement("a");
      a.href = url;
      a.download = `${name} re-gear.pdf`;
      a.click();
      URL.revokeObjectURL(url);
    },
  });
  const trouble = record.error ?? sheet.error;
  return (
    <div className={`no-print ${classes.decideRecord}`}>
      {unit !== undefined && maySave && (
        <>
          <Textarea
            label="Note"
            value={note}
            maxLength={1000}
            autosize
            minRows={1}
            onChange={(e) => setNote(e.currentTarget.value)}
          />
          <Button
            color="brass.4"
            autoContrast
            loading={record.isPending}
            onClick={() => record.mutate({ kind: "regear", regear: request, note, currency })}
          >
            Save this choice
          </Button>
        </>
      )}
      <Button
        variant="default"
        leftSection={<IconFileText size={16} />}
        loading={sheet.isPending}
        onClick={() => sheet.mutate()}
      >
        Sheet (PDF)
      </Button>
      <Button variant="default" leftSection={<IconPrinter size={16} />} onClick={() => window.print()}>
        Print
      </Button>
      {trouble && <p className="trouble">{trouble.message}</p>}
    </div>
  );
}
