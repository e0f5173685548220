import { ActionIcon, Button, TextInput } from "@mantine/core";
import { IconHandFinger } from "@tabler/icons-react";
import { useState } from "react";
import type { SpeedoCell, SpeedoRequest } from "../../api/client";
import { useMaySave } from "../../app/session";
import { useUnits } from "../../app/units";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { fixed, fromKMH, speedUnit } from "../../format/numbers";
import { distinct, useShop } from "../../shop/useShop";
import { AnswerPlate } from "../answer";
import { useDecide } from "../useDecide";
import { Grid, legend, signs } from "./Grid";
import { HelicalCard } from "./HelicalCard";
import type { PanelProps, SpeedoForm, useSpeedo } from "./model";
import "./speedo.css";

const picks: Record<string, string> = {
  best: "Never reads low",
  least_high: "Lowest that never reads low",
  nearest: "Nearest to true",
  shelf: "From the shelf",
  sure: "Certainly not low",
  keep_drive: "Keep the drive gear",
};

type Props = PanelProps & { ask: SpeedoRequest; result: ReturnType<typeof useSpeedo>; missing: (string | false)[] };

/** The gears of a mechanical speedometer. */
export function GearsPanel({ form: f, set, unit, ask, result, missing }: Props) {
  const [units] = useUnits();
  const [taken, setTaken] = useState<{ drive: number; driven: number }>();
  const [counting, setCounting] = useState<"drive" | "driven">();
  const families = distinct(useShop("speedometer_gears"), "family").sort();
  const { answer, refused, error } = result;
  const m = answer?.mechanical;
  const off = answer?.take_offs.find((t) => t.shaft === answer.take_off?.shaft);
  const own = off?.family ?? answer?.take_offs.find((t) => t.family)?.family;
  const best = m?.picks[0]?.cell;
  const at = m?.cells.find((c) => c.drive === taken?.drive && c.driven === taken.driven) ?? best ?? m?.fitted;
  const before = Boolean(f.axleBefore?.trim() || f.tireBefore?.trim());
  const b = bind<SpeedoForm, SpeedoRequest>(f, set, refused);
  const teethField = (key: "drive" | "driven", label: string, error?: string) => (
    <TextInput
      label={label}
      inputMode="numeric"
      placeholder="teeth"
      value={f[key]}
      onChange={(e) => set({ [key]: e.currentTarget.value })}
      error={error}
      rightSection={
        <ActionIcon
          variant="subtle"
          aria-label={`Count: ${label}`}
          title="How to count it"
          onClick={() => setCounting(key)}
        >
          <IconHandFinger size={18} />
        </ActionIcon>
      }
    />
  );
  return (
    <div className="stack">
      <div className="sp-fields no-print">
        {b.text("Family of gears", "family", {
          field: null,
          placeholder: own || families.join(", ") || "any",
          list: "sp-families",
        })}
        <datalist id="sp-families">
          {families.map((x) => (
            <option key={x} value={x} />
          ))}
        </datalist>
        {teethField("drive", "Drive gear installed", b.fault("mechanical/fitted_drive"))}
        {teethField("driven", "Driven gear installed", b.fault("mechanical/fitted_driven"))}
        {b.text("Cable turns", "constant", {
          field: "mechanical/constant",
          placeholder: before ? "from when it read right" : f.per === "mile" ? "1000" : "621.37",
          disabled: before,
          numeric: true,
        })}
        {b.choice("per", "per", ["mile", "km"], { field: null, disabled: before })}
      </div>
      <details className="decide-box no-print" open={before}>
        <summary>It read right before the change</summary>
        <p className="dim">
          Enter the installed gears above, and the axle and tire they read right with. The new gears follow.
        </p>
        <div className="two">
          {b.text("Axle before", "axleBefore", { field: "before/axle", placeholder: "3.73 or 41/11" })}
          {b.text("Tire before", "tireBefore", { field: "before/tire", placeholder: "235/75R15" })}
        </div>
      </details>
      {!m ? (
        <Waiting title="Which speedometer gears?" missing={missing} error={error} />
      ) : (
        <>
          <AnswerPlate>
            <div>
              <p className="decide-kicker">{best ? (picks[m.picks[0].which] ?? "Best pair") : "No pair fits"}</p>
              <h2>
                {best
                  ? `Drive ${best.drive}, driven ${best.driven}: ${best.words}`
                  : (m.adapters[0]?.text ?? "There are no gears to choose from: enter some, or fill the shop's list.")}
              </h2>
              {best && m.picks[0] && (
                <p className="decide-sure">
                  {m.picks[0].why} {best.housings.length > 0 && `Housing ${best.housings.join(" or ")}. `}
                  {best.shelf ? "All of it is on the shelf." : "Not all of it is on the shelf."}
                </p>
              )}
              {m.fitted && (
                <p>
                  Installed now, {m.fitted.drive} and {m.fitted.driven}: <b>{m.fitted.words}</b>.
                </p>
              )}
            </div>
            <div className="sp-picks no-print">
              {m.picks
                .filter((p) => p.cell.drive !== best?.drive || p.cell.driven !== best.driven)
                .map((p) => (
                  <button
                    type="button"
                    key={p.which}
                    title={p.why}
                    onClick={() => setTaken({ drive: p.cell.drive, driven: p.cell.driven })}
                  >
                    <small>{picks[p.which]}</small>
                    <b>
                      {p.cell.drive} : {p.cell.driven}
                    </b>
                    <span>{p.cell.words}</span>
                  </button>
                ))}
            </div>
          </AnswerPlate>
          {(m.families?.length ?? 0) > 1 && (
            <div className="row wrap no-print">
              <span>Which family is it?</span>
              {m.families?.map((x) => (
                <Button key={x} size="compact-sm" variant="default" onClick={() => set({ family: x })}>
                  {x}
                </Button>
              ))}
            </div>
          )}
          {m.cells.length > 0 && (
            <>
              <Grid
                cells={m.cells}
                ideal={m.ideal}
                at={at}
                best={best}
                fitted={m.fitted}
                housings={m.housings}
                onTake={(c) => setTaken({ drive: c.drive, driven: c.driven })}
              />
              <p className="sp-legend">
                {legend.map(([mark, words]) => (
                  <span key={mark} className={`sp-key sp-${mark}`}>
                    {signs[mark]} {words}
                  </span>
                ))}
                <span>■ on the shelf □ to order</span>
                <span className="sp-key no-house">no housing</span>
              </p>
            </>
          )}
          {at && <Taken cell={at} unit={unit} ask={ask} units={units} />}
          {best &&
            m.adapters.map((a) => (
              <p key={a.text}>
                <b>Adapter box.</b> {a.text}
              </p>
            ))}
          {!best && m.adapters.slice(1).map((a) => <p key={a.text}>{a.text}</p>)}
          <ul className="sp-notes">
            {m.notes.map((n) => (
              <li key={n}>{n}</li>
            ))}
          </ul>
        </>
      )}
      <details className="decide-box no-print" open={Boolean(f.drives || f.drivens)}>
        <summary>Gears not on the shop's list</summary>
        <div className="two">
          {b.text("Drive gears, teeth", "drives", { field: "mechanical/drives", placeholder: "6 7 8" })}
          {b.text("Driven gears, teeth", "drivens", { field: "mechanical/driven", placeholder: "15-28" })}
        </div>
      </details>
      {counting && (
        <HelicalCard
          name={`${counting} gear`}
          onCount={(n) => {
            set({ [counting]: String(n) });
            setCounting(undefined);
          }}
          onClose={() => setCounting(undefined)}
        />
      )}
    </div>
  );
}

/** One pair of the grid: what the needle shows with it, and its record. */
function Taken({
  cell: c,
  unit,
  ask,
  units,
}: {
  cell: SpeedoCell;
  unit?: number;
  ask: SpeedoRequest;
  units: "metric" | "inch";
}) {
  const maySave = useMaySave();
  const record = useDecide(unit);
  return (
    <section className={`sp-taken sp-edge-${c.mark}`} aria-label="This pair">
      <div>
        <h2>
          {signs[c.mark]} Drive {c.drive}, driven {c.driven}
        </h2>
        <p>
          {c.words}. {c.held ? c.housings.length > 0 && `Housing ${c.housings.join(" or ")}.` : "No housing fits it."}{" "}
          {c.shelf ? "On the shelf." : "To order."}
        </p>
        <small className="dim">{c.formula}</small>
      </div>
      <table className="figures">
        <thead>
          <tr>
            <th>{speedUnit(units)}</th>
            {c.reads.map((r) => (
              <th key={r.true_kmh} className="num">
                {fixed(fromKMH(r.true_kmh, units), 0)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">needle</th>
            {c.reads.map((r) => (
              <td key={r.true_kmh} className="num">
                {fixed(fromKMH(r.shown_kmh, units), 1)}
              </td>
            ))}
          </tr>
          <tr>
            <th scope="row" title="A reference: local rules decide">
              UN R39 to
            </th>
            {c.reads.map((r) => (
              <td key={r.true_kmh} className="num dim">
                {fixed(fromKMH(r.allowed_to_kmh, units), 1)}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      {unit !== undefined && maySave && (
        <div className="no-print">
          <Button
            color="brass.4"
            autoContrast
            disabled={c.mark === "low"}
            loading={record.isPending}
            onClick={() => record.mutate({ kind: "speedometer", speedometer: ask, drive: c.drive, driven: c.driven })}
          >
            Save this pair
          </Button>
          {c.mark === "low" && <p className="dim">A pair that reads low is never recorded.</p>}
          {record.error && <p className="trouble">{record.error.message}</p>}
        </div>
      )}
    </section>
  );
}
