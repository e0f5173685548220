import type { StampHeard } from "../../api/client";
import { fixed } from "../../format/numbers";
import { Plate } from "../answer";
import classes from "./gearcase.module.css";

/** The stamp as it stands on the case, large, and what it comes to by both units that stamps are in. */
export function StampRead({ heard }: { heard: StampHeard }) {
  const marks = heard.marks ?? [];
  const signed = (v: number, places: number) => (v > 0 ? "+" : "") + fixed(v, places);
  return (
    <Plate kicker="What the stamp says" says={heard.head ?? ""}>
      <p className={classes.stamp} aria-hidden>
        {marks.map((m) => `${m.id} ${signed(m.value, 0)}`).join("   ")}
      </p>
      <table className={classes.stampTable}>
        <thead>
          <tr>
            <th scope="col">Gear</th>
            <th scope="col">if 0.01 mm</th>
            <th scope="col">if 0.001 in</th>
          </tr>
        </thead>
        <tbody>
          {marks.map((m) => (
            <tr key={m.id}>
              <th scope="row">{m.name}</th>
              <td className="num">{signed(m.hundredths_mm, 2)} mm</td>
              <td className="num">{signed(m.thousandths_mm, 3)} mm</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Plate>
  );
}
