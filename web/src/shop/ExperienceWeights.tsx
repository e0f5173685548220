import type { Experience } from "../api/client";
import { fixed } from "../format/numbers";
import { questionWords } from "../format/words";
import { many } from "./experience";
import classes from "./files.module.css";

const housingWords: Record<string, string> = {
  ring: "Backlash per mm of ring",
  pinion: "Backlash per mm of pinion",
  gearcase: "Backlash per mm in a gearcase",
};

const percent = (v: number) => `${fixed(100 * v, 0)} %`;

/** What other shops' experience comes to in this one. */
export function ExperienceWeights({ all }: { all: Experience }) {
  return (
    <section className={classes.section}>
      <h2>How much it counts here</h2>
      {all.gears.length > 0 && (
        <div className="scroll">
          <table className="figures">
            <caption>Gears that other shops counted</caption>
            <thead>
              <tr>
                <th scope="col">In</th>
                <th scope="col">Housings</th>
                <th scope="col">Match rate</th>
                <th scope="col">Matched here</th>
                <th scope="col">Share of the odds</th>
                <th scope="col">Most often</th>
              </tr>
            </thead>
            <tbody>
              {all.gears.map((g) => (
                <tr key={`${g.kind} ${g.position}`}>
                  <th scope="row">{questionWords({ kind: g.kind, position: g.position })}</th>
                  <td>
                    {g.counted} of {many(g.shops, "shop", "shops")}
                  </td>
                  <td>{percent(g.foretold)}</td>
                  <td>
                    {g.hit} of {g.own}
                  </td>
                  <td>{percent(g.share)}</td>
                  <td>{g.often?.join(", ")}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {all.faults.length > 0 && <Faults faults={all.faults} />}
      {all.housings.length > 0 && (
        <table className="figures">
          <caption>Set-ups, against the figure from the teeth</caption>
          <thead>
            <tr>
              <th scope="col">Sensitivity</th>
              <th scope="col">Housings</th>
              <th scope="col">Times that figure</th>
            </tr>
          </thead>
          <tbody>
            {all.housings.map((h) => (
              <tr key={h.kind}>
                <th scope="row">{housingWords[h.kind] ?? h.kind}</th>
                <td>{h.count}</td>
                <td>
                  {fixed(h.factor, 2)} ± {fixed(h.sigma, 2)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function Faults({ faults }: { faults: Experience["faults"] }) {
  return (
    <table className="figures">
      <caption>Faults that other shops' repairs proved</caption>
      <thead>
        <tr>
          <th scope="col">Fault</th>
          <th scope="col">Times</th>
          <th scope="col">Odds, typical</th>
          <th scope="col">Odds with them</th>
        </tr>
      </thead>
      <tbody>
        {faults.map((f) => (
          <tr key={f.sort}>
            <th scope="row">{f.sort.replaceAll("_", " ")}</th>
            <td>{f.found}</td>
            <td>{fixed(f.typical, 1)}</td>
            <td>{fixed(f.weight, 1)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
