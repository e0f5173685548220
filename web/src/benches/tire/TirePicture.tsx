import type { TireAnswer } from "../../api/client";
import { useUnits } from "../../app/units";
import { fixed, fromMM, lengthUnit } from "../../format/numbers";
import classes from "./tire.module.css";

/** Old and new tire to one scale on one floor, from the side and from ahead. */
export function TirePicture({ old, fresh }: { old?: TireAnswer; fresh?: TireAnswer }) {
  const [units] = useUnits();
  if (!old || !fresh) return null;
  // A tire that is known by its rolling alone is drawn as wide across as a radial would be.
  const across = (t: TireAnswer) => t.diameter_mm?.decimal ?? t.rolling_mm.decimal / 3.05;
  const tires = [
    { name: "old", t: old },
    { name: "new", t: fresh },
  ];
  const tall = Math.max(across(old), across(fresh));
  const k = 118 / tall;
  const floor = 138;
  const unit = lengthUnit(units);
  const rise = (across(fresh) - across(old)) / 2;
  const say = (mm: number) => `${fixed(fromMM(mm, units), units === "inch" ? 1 : 0)} ${unit}`;
  let x = 8;
  return (
    <svg
      viewBox="0 0 370 166"
      className={classes.picture}
      data-part="tires"
      role="img"
      aria-label="Old and new tire to scale"
    >
      <path d={`M0 ${floor} H370`} className={classes.floor} />
      {tires.map(({ name, t }) => {
        const d = across(t) * k;
        const rim = (t.rim_mm?.decimal ?? across(t) * 0.55) * k;
        const w = (t.width_mm?.decimal ?? 220) * k;
        const cx = x + d / 2;
        const wx = x + d + 8;
        x = wx + w + 20;
        return (
          <g key={name}>
            <circle cx={cx} cy={floor - d / 2} r={d / 2} className={classes.tread} />
            <circle cx={cx} cy={floor - d / 2} r={rim / 2} className={classes.rim} />
            <circle cx={cx} cy={floor - d / 2} r={3} className={classes.hub} />
            <rect x={wx} y={floor - d} width={w} height={d} rx={Math.min(6, w / 4)} className={classes.tread} />
            <text x={cx} y={floor + 13} textAnchor="middle">
              {name}: {t.diameter_mm ? "" : "about "}
              {say(across(t))}
            </text>
            {t.width_mm && (
              <text x={wx + w / 2} y={floor + 13} textAnchor="middle" className={classes.small}>
                {say(t.width_mm.decimal)}
              </text>
            )}
          </g>
        );
      })}
      <text x={366} y={floor + 26} textAnchor="end" className={classes.small}>
        {Math.abs(rise) < 0.5
          ? "the axle stays where it is"
          : `the axle ${rise > 0 ? "rises" : "drops"} ${say(Math.abs(rise))}`}
      </text>
    </svg>
  );
}
