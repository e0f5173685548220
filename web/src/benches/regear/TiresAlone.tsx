import type { components } from "../../api/schema";
import { AnswerPlate } from "../answer";
import classes from "./regear.module.css";

type TireChange = components["schemas"]["TireChange"];

/** What two tires tell by themselves: how much taller, what the needle reads, what would restore it. */
export function TiresAlone({ change: c }: { change: TireChange }) {
  return (
    <AnswerPlate>
      <div>
        <p className="decide-kicker">New tires against old</p>
        <h2>{c.head}</h2>
        <ul>
          {c.sentences.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ul>
      </div>
      <table className={classes.compare}>
        <thead>
          <tr>
            <th scope="col">True speed</th>
            {c.reads_at.map((x) => (
              <th key={x.actual} scope="col">
                {x.actual}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">Needle reads</th>
            {c.reads_at.map((x) => (
              <td key={x.actual} className="num">
                {x.shown.toFixed(1)}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </AnswerPlate>
  );
}
