import { Link } from "react-router";
import type { RegearPlan } from "../../api/client";
import { useSession } from "../../app/session";
import { money } from "../../format/numbers";
import classes from "./regear.module.css";

/** Parts and labor by the shop's own list, from and to. */
export function EstimateTable({ plan }: { plan: RegearPlan }) {
  const currency = plan.currency ?? "";
  const person = useSession().data?.person;
  const e = plan.estimate;
  return (
    <div data-part="estimate">
      <div className="row spread wrap">
        <h2>Estimate: {e.name}</h2>
        {person && !currency && (
          <Link className="no-print" to="/shop/settings">
            Enter the shop's currency
          </Link>
        )}
      </div>
      {!e.priced && <p>No price yet.</p>}
      <table className="figures" hidden={!e.priced}>
        <thead>
          <tr>
            <th>For</th>
            <th>Axle</th>
            <th>From where</th>
            <th className="num">from{currency && `, ${currency}`}</th>
            <th className="num">to{currency && `, ${currency}`}</th>
          </tr>
        </thead>
        <tbody>
          {e.lines.map((l) => (
            <tr key={l.what + (l.at ?? "")}>
              <td>{l.what}</td>
              <td>{l.at}</td>
              <td>
                <small>{l.how}</small>
              </td>
              <td className="num">{money(l.low.decimal, "")}</td>
              <td className="num">{money(l.high.decimal, "")}</td>
            </tr>
          ))}
          <tr className="total">
            <td colSpan={3}>Together</td>
            <td className="num">{money(e.low.decimal, currency)}</td>
            <td className="num">{money(e.high.decimal, currency)}</td>
          </tr>
        </tbody>
      </table>
      {e.missing.length > 0 && <p className="trouble">No price yet: {e.missing.join("; ")}.</p>}
      <p className="dim no-print">
        {person ? (
          <>
            Hours, rates and small parts are in the shop's <Link to="/shop/prices">labor and prices</Link>, sets in its{" "}
            <Link to="/shop/gear_sets">gear sets</Link>.
          </>
        ) : (
          <>
            <Link to="/sign-in">Sign in</Link> for the shop's prices.
          </>
        )}
      </p>
    </div>
  );
}

const kinds: Record<string, string> = { decide: "Do now", look: "Look at", order: "Have ready" };

/** What later decisions will need, before anything is closed up. */
export function WhileOpen({ items }: { items: RegearPlan["while_open"] }) {
  return (
    <>
      <h2>While it is apart</h2>
      <ul className={classes.open}>
        {items.map((o) => (
          <li key={o.where + o.what}>
            <span className={classes.kind} data-kind={o.kind}>
              {kinds[o.kind]}
            </span>
            <span>
              <b>
                {o.where}: {o.what}.
              </b>{" "}
              {o.why}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
