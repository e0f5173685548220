import { NativeSelect } from "@mantine/core";
import { memo, useState } from "react";
import type { RegearPlan, RegearVariant } from "../../api/client";
import { useUnits } from "../../app/units";
import { type Data, Figure } from "../../drawing/Figure";
import { fixed, fromKMH, speedUnit, type Units } from "../../format/numbers";
import { Bars, Lines, type Side } from "./charts";
import { variantOf } from "./Verdict";

/** The figures of a range before, with the tires alone, and with the gears of the estimate. */
function useFigures(plan: RegearPlan, range: string, units: Units) {
  const after = variantOf(plan, plan.estimate.candidate);
  const afterName = after.id === "tires_only" ? "tires only" : after.ratio.label;
  const picked = (v: RegearVariant) => v.rows.filter((r) => (r.range ?? "") === range && !r.reverse);
  const sides: Side[] = [
    { id: "before", name: "before", rows: picked(plan.before), width: 1.5, dash: "6 4", color: "var(--ink-2)" },
    ...(after.id === "tires_only"
      ? []
      : [
          {
            id: "only",
            name: "tires only",
            rows: picked(plan.tires_only),
            width: 1.5,
            dash: "2 3",
            color: "var(--brass-deep)",
          },
        ]),
    { id: "after", name: afterName, rows: picked(after), width: 2.5, dash: "", color: "var(--series)" },
  ];
  const old = picked(plan.before);
  const now = picked(after);
  const gears = old.map((r) => r.gear);
  const chosen = after.id === "tires_only" ? undefined : afterName;
  const unit = speedUnit(units);
  const speed = (kmh: number) => Number(fixed(fromKMH(kmh, units), 1));
  const top = 1.25 * Math.max(...old.map((r) => r.shift_kmh / r.kmh_per_1000)) * 1000;
  // A column for each gear and side, gear by gear.
  const bySpeed = (value: (r: RegearVariant["rows"][number], k: number) => number | null | undefined): Data => ({
    head: [unit, ...old.flatMap((r) => sides.map((side) => `${r.gear} ${side.name}`))],
    rows: plan.speeds_kmh.map((kmh, k) => [
      String(speed(kmh)),
      ...old.flatMap((_, i) => sides.map((side) => (side.rows[i] ? (value(side.rows[i], k) ?? null) : null))),
    ]),
  });
  const rpm = bySpeed((r, k) => {
    const v = r.rpm[k];
    return v !== undefined && v <= top ? Math.round(v) : null;
  });
  const byGear = (value: (r: RegearVariant["rows"][number]) => number, places: number): Data => ({
    head: ["gear", "before", "tires only", afterName],
    rows: old.map((r, i) => {
      const only = picked(plan.tires_only)[i];
      const then = now[i];
      return [r.gear, ...[r, only, then].map((x) => Number((x ? value(x) : 0).toFixed(places)))];
    }),
  });
  const force = bySpeed((r, k) => r.force_n?.[k]);
  return {
    sides,
    gears,
    chosen,
    unit,
    rpm,
    force,
    ladder: byGear((r) => r.acts_like, 3),
    thrust: byGear((r) => r.thrust, 2),
  };
}

/** rpm against speed, the ladder of ratios, and thrust by gear; before and after. */
export const Curves = memo(function Curves({ plan, name }: { plan: RegearPlan; name: string }) {
  const [units] = useUnits();
  const ranges = [...new Set(plan.before.rows.map((r) => r.range ?? ""))];
  const [range, setRange] = useState(ranges[0] ?? "");
  const { sides, gears, chosen, unit, rpm, ladder, force, thrust } = useFigures(plan, range, units);
  const curve = Boolean(plan.before.max_force_n);
  return (
    <div>
      {ranges.length > 1 && (
        <NativeSelect
          className="no-print"
          label="Range"
          w={140}
          value={range}
          onChange={(e) => setRange(e.currentTarget.value)}
          data={ranges}
        />
      )}
      <Figure
        title="Engine speed against road speed"
        note={`rpm by ${unit}${range ? `, ${range} range` : ""}; drawn a little beyond the shift rpm`}
        file={`${name} rpm.csv`}
        data={rpm}
      >
        <Lines t={rpm} sides={sides} gears={gears} unit={unit} />
      </Figure>
      <Figure
        title="Ladder of ratios"
        note="overall, as it would act on the stock tire: closer bars are closer steps"
        file={`${name} ladder.csv`}
        data={ladder}
      >
        <Bars t={ladder} chosen={chosen} />
      </Figure>
      {curve ? (
        <Figure
          title="Thrust by gear"
          note={`newtons at the tires by ${unit}, with the torque curve, without losses`}
          file={`${name} thrust.csv`}
          data={force}
        >
          <Lines t={force} sides={sides} gears={gears} unit={unit} />
        </Figure>
      ) : (
        <Figure
          title="Thrust by gear"
          note="newtons at the tires per newton meter of the engine; with a torque curve it is drawn against speed"
          file={`${name} thrust.csv`}
          data={thrust}
        >
          <Bars t={thrust} chosen={chosen} />
        </Figure>
      )}
    </div>
  );
});
