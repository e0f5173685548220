import type { FreePlay, FreePlayAnswer } from "../../api/client";
import { bind } from "../../form/bind";
import { fixed, when } from "../../format/numbers";
import { AnswerPlate, Cautions } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { useLast } from "../useLast";
import classes from "./freeplay.module.css";
import type { Form, Rocking } from "./useRocked";

type Props = { answer: FreePlayAnswer; rocking: Rocking; unit?: number };

/** Whether the play is usual, where it is, and what a supposed one would show. */
export function PlayFound({ answer, rocking, unit }: Props) {
  const { form, set, refused, question } = rocking;
  const last = useLast(unit, "free_play");
  const b = bind<Form, FreePlay>(form, set, refused);
  return (
    <>
      <AnswerPlate>
        <div>
          <h2>{answer.sentence}</h2>
          {answer.next && <p>→ {answer.next}</p>}
          {answer.asks.map((a) => (
            <p key={a}>? {a}</p>
          ))}
          {answer.supposed.map((s) => (
            <p key={s}>{s}</p>
          ))}
        </div>
      </AnswerPlate>
      <Shares answer={answer} />
      <div className="row wrap">
        {b.choice(
          "Try play at",
          "suppose",
          [
            { value: "", label: "What would you feel if …" },
            ...answer.places.map((p) => ({ value: p.id, label: p.name })),
          ],
          { field: null, bare: true },
        )}
        {form.suppose && b.text("had so many degrees", "degrees", { field: "suppose", bare: true, width: 90 })}
        <KeepWithUnit unit={unit} record={{ kind: "free_play", free_play: question }} />
      </div>
      {last && (
        <p className="dim">
          Last time, {when(last.at)}, {last.by}: {last.title}
        </p>
      )}
      <details>
        <summary>How much is too much?</summary>
        {answer.schools.map((s) => (
          <p key={s}>{s}</p>
        ))}
      </details>
      <Cautions list={answer.cautions} />
    </>
  );
}

/** What each place shows at the shaft that was rocked last: usual, and what the measurements leave. */
function Shares({ answer }: { answer: FreePlayAnswer }) {
  const last = answer.measured[answer.measured.length - 1];
  if (!last || last.shares.length === 0) return null;
  const places = new Map(answer.places.map((p) => [p.id, p]));
  return (
    <table className={`figures ${classes.shares}`}>
      <thead>
        <tr>
          <th scope="col">Place</th>
          <th scope="col">1° there shows as</th>
          <th scope="col">usual, °</th>
          <th scope="col">likely now, °</th>
        </tr>
      </thead>
      <tbody>
        {last.shares.slice(0, 9).map((s) => {
          const p = places.get(s.place);
          return (
            <tr key={s.place} className={p?.word === "more than usual" ? classes.more : ""}>
              <th scope="row">
                {p?.name}
                {p?.word === "more than usual" && " ▲"}
              </th>
              <td>{fixed(s.factor, 2)}</td>
              <td>{fixed(s.usual_deg, 2)}</td>
              <td>
                {fixed(s.likely_deg, 2)} <small className="dim">± {fixed(2 * (p?.sigma_deg ?? 0) * s.factor, 2)}</small>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
