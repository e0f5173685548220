import type { RegearPlan } from "../../api/client";
import { useUnits } from "../../app/units";
import { change, fixed, fromMM, lengthUnit } from "../../format/numbers";
import classes from "./regear.module.css";

/** Gears are bought once: the next tires, and which tires suit which gears. */
export function OtherTires({ plan }: { plan: RegearPlan }) {
  const [units] = useUnits();
  const unit = lengthUnit(units);
  const mm = (v: number) => `${fixed(fromMM(v, units), units === "inch" ? 1 : 0)} ${unit}`;
  return (
    <div>
      <h2>The next tires down and up</h2>
      <table className="figures">
        <thead>
          <tr>
            <th>Tire</th>
            <th>Rolls</th>
            <th>Back to stock</th>
            <th>Recommended gears on it</th>
            <th>rpm at cruise</th>
            <th>What that means</th>
          </tr>
        </thead>
        <tbody>
          {plan.next_tires.map((n) => (
            <tr key={n.name}>
              <td>
                <b>{n.name}</b> <small>{change(n.percent)}</small>
              </td>
              <td className="num">{mm(n.rolling_mm.decimal)}</td>
              <td className="num">{n.equivalent.label}</td>
              <td className="num">{change(n.recommended_against_stock_percent)}</td>
              <td className="num">{fixed(n.cruise_rpm, 0)}</td>
              <td>{n.text}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {plan.reverse.map((r) => (
        <section key={r.candidate}>
          <h2>
            {r.candidate === "leave" ? "The gears installed now suit" : `${r.name} suits`} a tire of about{" "}
            {mm(r.about_diameter_mm)}
          </h2>
          <p className="dim">Rolling {r.formula}.</p>
          <ul className={classes.suits}>
            {r.tires.map((t) => (
              <li key={t.name} className={t.fits ? classes.isFit : ""}>
                {t.fits ? "✓" : "–"} {t.name} <small>{change(t.against_stock_percent)} against stock</small>
              </li>
            ))}
          </ul>
        </section>
      ))}
      {plan.factory.length > 0 && (
        <>
          <h2>What the factory offered</h2>
          <table className="figures">
            <tbody>
              {plan.factory.map((f) => (
                <tr key={f.line + f.name + f.tire}>
                  <td>
                    <b>{f.line}</b> {f.name}
                  </td>
                  <td>{f.tire}</td>
                  <td className="num">{change(f.against_stock_percent)} against stock</td>
                  <td>
                    {f.text} <small className="dim">{f.note}</small>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}
