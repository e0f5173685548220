import type { TireAnswer } from "../../api/client";
import { useUnits } from "../../app/units";
import { fixed, fromMM, lengthUnit } from "../../format/numbers";

/** Old and new tire to one scale on one floor, from the side and from ahead. */
export function TirePicture({ old, fresh }: { old?: TireAnswer; fresh?: TireAnswer }) {
  const [units] = useUnits();
  if (!old?.diameter_mm || !fresh?.diameter_mm) return null;
  const tires = [
    { name: "old", t: old },
    { name: "new", t: fresh },
  ];
  const tall = Math.max(old.diameter_mm.decimal, fresh.diameter_mm.decimal);
  const k = 118 / tall;
  const floor = 138;
  const unit = lengthUnit(units);
  const rise = (fresh.diameter_mm.decimal - old.diameter_mm.decimal) / 2;
  const say = (mm: number) => `${fixed(fromMM(mm, units), units === "inch" ? 1 : 0)} ${unit}`;
  let x = 8;
  return (
    <svg viewBox="0 0 370 166" className="tire-picture" role="img" aria-label="Old and new tire to scale">
      <path d={`M0 ${floor} H370`} className="tire-floor" />
      {tires.map(({ name, t }) => {
        const d = (t.diameter_mm?.decimal ?? 0) * k;
        const rim = (t.rim_mm?.decimal ?? t.diameter_mm?.decimal ?? 0) * k * (t.rim_mm ? 1 : 0.55);
        const w = (t.width_mm?.decimal ?? 220) * k;
        const cx = x + d / 2;
        const wx = x + d + 8;
        x = wx + w + 20;
        return (
          <g key={name}>
            <circle cx={cx} cy={floor - d / 2} r={d / 2} className="tire-tread" />
            <circle cx={cx} cy={floor - d / 2} r={rim / 2} className="tire-rim" />
            <circle cx={cx} cy={floor - d / 2} r={3} className="tire-hub" />
            <rect x={wx} y={floor - d} width={w} height={d} rx={Math.min(6, w / 4)} className="tire-tread" />
            <text x={cx} y={floor + 13} textAnchor="middle">
              {name}: {say(t.diameter_mm?.decimal ?? 0)}
            </text>
            {t.width_mm && (
              <text x={wx + w / 2} y={floor + 13} textAnchor="middle" className="small">
                {say(t.width_mm.decimal)}
              </text>
            )}
          </g>
        );
      })}
      <text x={366} y={floor + 26} textAnchor="end" className="small">
        {Math.abs(rise) < 0.5
          ? "the axle stays where it is"
          : `the axle ${rise > 0 ? "rises" : "drops"} ${say(Math.abs(rise))}`}
      </text>
    </svg>
  );
}
