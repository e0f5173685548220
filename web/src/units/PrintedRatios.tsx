import type { Unit } from "../api/client";
import { chance, fraction, when } from "../format/numbers";
import { unitKindWords } from "../format/words";
import classes from "./unit.module.css";

const known = { measured: "measured", assumed: "assumed", conflict: "readings contradict", unknown: "not counted" };

/** On paper the unit's name and its ratios stand above the drawn machine. */
export function PrintedRatios({ unit: u }: { unit: Unit }) {
  return (
    <section className={classes.printed} aria-hidden="true">
      <h1>
        {u.name} · {unitKindWords[u.kind]}
      </h1>
      <p>Printed {when(new Date().toISOString())}. Follow the maker's manual; a qualified person decides.</p>
      <table>
        <thead>
          <tr>
            <th>Ratio</th>
            <th>Label</th>
            <th>Exactly</th>
            <th>Measured or not</th>
          </tr>
        </thead>
        <tbody>
          {u.stages
            .filter((s) => s.present)
            .map((s) => (
              <tr key={s.id}>
                <td>{s.name}</td>
                <td>{s.label?.label ?? s.about ?? "?"}</td>
                <td>
                  {s.build ? `${s.build.teeth.map((t) => t.count).join(" : ")} = ${fraction(s.build.ratio)}` : ""}
                </td>
                <td>
                  {known[s.state]}
                  {s.label && `, ${chance(s.label.probability)}`}
                </td>
              </tr>
            ))}
        </tbody>
      </table>
      {u.notes && <p className="as-typed">{u.notes}</p>}
    </section>
  );
}
