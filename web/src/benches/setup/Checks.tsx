import type { SetupVerdict } from "../../api/client";
import classes from "./setup.module.css";

const marks: Record<string, string> = { in: "✓", low: "▼", high: "▲", left_out: "–" };

/** Every figure of the newest trial against the maker's; what isn't checked yet is named in a line. */
export function Checks({ verdict }: { verdict: SetupVerdict }) {
  const open = verdict.checks.filter((c) => c.state === "left_out" && !c.value);
  return (
    <div>
      <table className={classes.checks}>
        <tbody>
          {verdict.checks
            .filter((c) => !open.includes(c))
            .map((c) => (
              <tr
                key={c.id}
                className={c.state === "left_out" ? classes.left : c.state === "in" ? classes.in : classes.out}
              >
                <th scope="row">
                  <span aria-hidden>{marks[c.state]}</span> {c.name}
                </th>
                <td>
                  {c.value}
                  <small title={c.from}>
                    {" "}
                    {c.state === "left_out" ? c.text : `${c.band ?? ""}${c.state === "in" ? "" : `: ${c.text}`}`}
                  </small>
                </td>
              </tr>
            ))}
        </tbody>
      </table>
      {open.length > 0 && (
        <details className={classes.open}>
          <summary>
            Not checked yet: {open.map((c) => c.name.charAt(0).toLowerCase() + c.name.slice(1)).join(", ")}
          </summary>
          <ul>
            {open.map((c) => (
              <li key={c.id}>
                {c.name}: {c.text}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
