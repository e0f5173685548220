import { VisuallyHidden } from "@mantine/core";
import type { RegearPlan, RegearVariant } from "../../api/client";
import { useUnits } from "../../app/units";
import { change, fixed, fromKMH, money, speedUnit } from "../../format/numbers";
import { AnswerPlate } from "../answer";
import classes from "./regear.module.css";

/** The variant that a candidate stands for. */
export function variantOf(plan: RegearPlan, id: string): RegearVariant {
  const c = plan.candidates.find((x) => x.id === id);
  return plan.variants.find((v) => v.id === c?.variant) ?? plan.tires_only;
}

const bands: Record<string, string> = {
  in: "✓ within the rpm range",
  below: "↓ below the WOT range",
  above: "↑ above the WOT range",
};

/** The answer first: what to fit, and the few figures that decide it. */
export function Verdict({ plan }: { plan: RegearPlan }) {
  const [units] = useUnits();
  const currency = plan.currency ?? "";
  const chosen = plan.estimate.candidate;
  const own = chosen !== plan.advice.candidate;
  const after = variantOf(plan, chosen);
  const same = after.id === "tires_only";
  const list: { name: string; v: RegearVariant }[] = [
    { name: "Before", v: plan.before },
    { name: "New tires only", v: plan.tires_only },
    ...(same ? [] : [{ name: `With ${after.ratio.label}`, v: after }]),
  ];
  const row = (name: string, say: (v: RegearVariant) => string, note?: (v: RegearVariant) => string | undefined) => (
    <tr>
      <th scope="row">{name}</th>
      {list.map((x) => (
        <td key={x.name} className="num">
          {say(x.v)}
          {note?.(x.v) && <small> {note(x.v)}</small>}
        </td>
      ))}
    </tr>
  );
  return (
    <AnswerPlate>
      <div>
        <p className="decide-kicker">
          {own ? "Your choice" : "Recommended"} · {plan.equivalent.label} would pull like stock
        </p>
        <h2>{own ? plan.estimate.name : plan.advice.sentence}</h2>
        <p className="decide-sure">{own ? `Recommended: ${plan.advice.sentence}` : plan.advice.sure}</p>
        {plan.automatic && <p className="decide-sure">{plan.automatic}</p>}
        {plan.estimate.priced && plan.estimate.high.num !== 0 && (
          <p className={classes.price} data-part="price">
            {money(plan.estimate.low.decimal, currency)} to {money(plan.estimate.high.decimal, currency)}
            {plan.estimate.missing.length > 0 && <small> · some parts have no price yet</small>}
          </p>
        )}
      </div>
      <table className={classes.compare}>
        <thead>
          <tr>
            <th>
              <VisuallyHidden>Figure</VisuallyHidden>
            </th>
            {list.map((x) => (
              <th key={x.name} scope="col">
                {x.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {row("Acts like", (v) => v.effective.label)}
          {row("Thrust", (v) => change(v.against_stock_percent))}
          {row(
            `rpm at cruise, gear ${plan.cruise_gear}`,
            (v) => fixed(v.cruise_rpm, 0),
            (v) => bands[v.in_band],
          )}
          {row("Crawl ratio", (v) => fixed(v.crawl.decimal, 1))}
          {row(`Slowest, ${speedUnit(units)}`, (v) => fixed(fromKMH(v.crawl_kmh, units), 2))}
        </tbody>
      </table>
    </AnswerPlate>
  );
}
