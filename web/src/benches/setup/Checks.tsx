import type { SetupVerdict } from "../../api/client";
import classes from "./setup.module.css";

const marks: Record<string, string> = { in: "✓", low: "▼", high: "▲", left_out: "–" };

/** Every figure of the newest trial against its band; what is left out stands there too. */
export function Checks({ verdict }: { verdict: SetupVerdict }) {
  return (
    <table className={classes.checks}>
      <tbody>
        {verdict.checks.map((c) => (
          <tr
            key={c.id}
            className={c.state === "left_out" ? classes.left : c.state === "in" ? classes.in : classes.out}
          >
            <th scope="row">
              <span aria-hidden>{marks[c.state]}</span> {c.name}
            </th>
            <td>
              {c.value || "–"}
              <small title={c.from}>
                {" "}
                {c.state === "left_out" ? c.text : `${c.band ?? ""}${c.state === "in" ? "" : `: ${c.text}`}`}
              </small>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
