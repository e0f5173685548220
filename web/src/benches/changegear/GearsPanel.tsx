import { VisuallyHidden } from "@mantine/core";
import type { ChangeGearsAnswer, ChangeGearsRung } from "../../api/client";
import { useUnits } from "../../app/units";
import { fixed, fromKMH, speedUnit } from "../../format/numbers";

type Props = { answer: ChangeGearsAnswer; at: number; name: string };

/** Every gear with the taken ratio and its two neighbors. */
export function GearsPanel({ answer, at, name }: Props) {
  const [units] = useUnits();
  const list = [at - 1, at, at + 1].map((i) => answer.ladder[i]).filter((r): r is ChangeGearsRung => r !== undefined);
  const now = answer.ladder[at];
  const thrust = list.some((r) => r.gears.some((g) => g.thrust_n !== undefined));
  if (!now) return <p className="dim">No set is on the shelf yet.</p>;
  return (
    <div className="scroll">
      <table className="figures">
        <caption className="dim">
          {name}: speed{answer.rpm ? ` at ${fixed(answer.rpm, 0)} rpm` : ""}, and rpm after shifting up there
        </caption>
        <thead>
          <tr>
            <th scope="col">Gear</th>
            {list.map((r) => (
              <th key={r.overall.label} scope="col" colSpan={thrust ? 4 : 3} className={r === now ? "is-chosen" : ""}>
                {r.overall.label}
                {r.fitted ? ", installed" : ""}
              </th>
            ))}
          </tr>
          <tr>
            <th>
              <VisuallyHidden>Gear</VisuallyHidden>
            </th>
            {list.flatMap((r) => [
              <th key={`${r.overall.label} o`} scope="col">
                overall
              </th>,
              <th key={`${r.overall.label} v`} scope="col">
                {speedUnit(units)}
              </th>,
              <th key={`${r.overall.label} r`} scope="col">
                rpm after
              </th>,
              ...(thrust
                ? [
                    <th key={`${r.overall.label} t`} scope="col">
                      thrust, N
                    </th>,
                  ]
                : []),
            ])}
          </tr>
        </thead>
        <tbody>
          {now.gears.map((g, i) => (
            <tr key={g.gear}>
              <th scope="row">{g.gear}</th>
              {list.flatMap((r) => {
                const x = r.gears[i];
                return [
                  <td key={`${r.overall.label} o`} className="num">
                    {x?.overall.label}
                  </td>,
                  <td key={`${r.overall.label} v`} className="num">
                    {x?.kmh !== undefined ? fixed(fromKMH(x.kmh, units), 1) : "–"}
                  </td>,
                  <td key={`${r.overall.label} r`} className="num">
                    {x?.after_rpm !== undefined ? fixed(x.after_rpm, 0) : "–"}
                  </td>,
                  ...(thrust
                    ? [
                        <td key={`${r.overall.label} t`} className="num">
                          {x?.thrust_n !== undefined ? fixed(x.thrust_n, 0) : "–"}
                        </td>,
                      ]
                    : []),
                ];
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {!answer.rolling_mm && <p className="dim">Speeds need the tire; put its rollout in at the left.</p>}
      {answer.rolling_mm && !answer.rpm && <p className="dim">Enter the rpm to show road speeds at.</p>}
    </div>
  );
}
