import type { SpeedoAnswer } from "../../api/client";
import classes from "./speedo.module.css";

/** How a speedometer gear is fitted, and what the law may ask. */
export function FittingCard({ answer }: { answer?: SpeedoAnswer }) {
  if (!answer)
    return (
      <div className="decide-waiting">
        <h2>Steps and rules come with the gears</h2>
        <p>Enter the tire and the axle ratio first.</p>
      </div>
    );
  return (
    <div className="two">
      <section>
        <h2>Fitting the gear</h2>
        <ol className={classes.steps}>
          {answer.fitting.map((s) => (
            <li key={s.do}>
              {s.do}
              {s.caution && <p className={classes.caution}>△ {s.caution}</p>}
            </li>
          ))}
        </ol>
      </section>
      <section>
        <h2>What the law may ask</h2>
        <table className="figures">
          <tbody>
            {answer.rules.map((r) => (
              <tr key={r.where + r.rule}>
                <th scope="row">{r.where}</th>
                <td>{r.rule}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="dim">A reference only. Local rules and the maker's manual decide.</p>
      </section>
    </div>
  );
}
