import type { SpeedoMechanicalAnswer } from "../../api/client";
import { AnswerPlate } from "../answer";
import classes from "./speedo.module.css";

const picks: Record<string, string> = {
  best: "Never reads low",
  least_high: "Lowest that never reads low",
  nearest: "Nearest to true",
  shelf: "From the shelf",
  sure: "Certainly not low",
  keep_drive: "Keep the drive gear",
};

type Props = { answer: SpeedoMechanicalAnswer; onTake: (pair: { drive: number; driven: number }) => void };

/** The pair to fit, how what is installed reads, and the other picks. */
export function BestPair({ answer: m, onTake }: Props) {
  const best = m.picks[0]?.cell;
  return (
    <AnswerPlate>
      <div>
        <p className="decide-kicker">{best ? (picks[m.picks[0].which] ?? "Best pair") : "No pair fits"}</p>
        <h2>
          {best
            ? `Drive ${best.drive}, driven ${best.driven}: ${best.words}`
            : (m.adapters[0]?.text ?? "There are no gears to choose from: enter some, or fill the shop's list.")}
        </h2>
        {best && m.picks[0] && (
          <p className="decide-sure">
            {m.picks[0].why} {best.housings.length > 0 && `Housing ${best.housings.join(" or ")}. `}
            {best.shelf ? "All of it is on the shelf." : "Not all of it is on the shelf."}
          </p>
        )}
        {m.fitted && (
          <p>
            Installed now, {m.fitted.drive} and {m.fitted.driven}: <b>{m.fitted.words}</b>.
          </p>
        )}
      </div>
      <div className={`${classes.picks} no-print`}>
        {m.picks
          .filter((p) => p.cell.drive !== best?.drive || p.cell.driven !== best.driven)
          .map((p) => (
            <button
              type="button"
              key={p.which}
              title={p.why}
              onClick={() => onTake({ drive: p.cell.drive, driven: p.cell.driven })}
            >
              <small>{picks[p.which]}</small>
              <b>
                {p.cell.drive} : {p.cell.driven}
              </b>
              <span>{p.cell.words}</span>
            </button>
          ))}
      </div>
    </AnswerPlate>
  );
}
