import { Button } from "@mantine/core";
import { useState } from "react";
import type { SpeedoCell, SpeedoRequest } from "../../api/client";
import { useMaySave } from "../../app/session";
import { useUnits } from "../../app/units";
import { Waiting } from "../../app/Waiting";
import { fixed, fromKMH, speedUnit } from "../../format/numbers";
import { distinct, useShop } from "../../shop/useShop";
import { useDecide } from "../useDecide";
import { BestPair } from "./BestPair";
import { GearFields, OwnGears } from "./GearFields";
import { Grid, legend, signs } from "./Grid";
import type { PanelProps, useSpeedo } from "./model";
import classes from "./speedo.module.css";

type Props = PanelProps & { ask: SpeedoRequest; result: ReturnType<typeof useSpeedo>; missing: (string | false)[] };

/** The gears of a mechanical speedometer. */
export function GearsPanel({ form: f, set, unit, ask, result, missing }: Props) {
  const [units] = useUnits();
  const [taken, setTaken] = useState<{ drive: number; driven: number }>();
  const families = distinct(useShop("speedometer_gears"), "family").sort();
  const { answer, refused, error } = result;
  const m = answer?.mechanical;
  const off = answer?.take_offs.find((t) => t.shaft === answer.take_off?.shaft);
  const own = off?.family ?? answer?.take_offs.find((t) => t.family)?.family;
  const best = m?.picks[0]?.cell;
  const at = m?.cells.find((c) => c.drive === taken?.drive && c.driven === taken.driven) ?? best ?? m?.fitted;
  return (
    <div className="stack">
      <GearFields form={f} set={set} refused={refused} families={families} own={own} />
      {!m ? (
        <Waiting title="Which speedometer gears?" missing={missing} error={error} />
      ) : (
        <>
          <BestPair answer={m} onTake={setTaken} />
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
              <p className={classes.legend}>
                {legend.map(([mark, words]) => (
                  <span key={mark} className={`${classes.key} ${classes.mark}`} data-mark={mark}>
                    {signs[mark]} {words}
                  </span>
                ))}
                <span>■ on the shelf □ to order</span>
                <span className={`${classes.key} ${classes.noHouse}`}>no housing</span>
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
          <ul className={classes.notes}>
            {m.notes.map((n) => (
              <li key={n}>{n}</li>
            ))}
          </ul>
        </>
      )}
      <OwnGears form={f} set={set} refused={refused} />
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
    <section className={`${classes.taken} ${classes.edge}`} data-mark={c.mark} aria-label="This pair">
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
