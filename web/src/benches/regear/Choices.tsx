import { useState } from "react";
import type { RegearPlan } from "../../api/client";
import { change, fixed, money } from "../../format/numbers";
import classes from "./regear.module.css";
import { variantOf } from "./Verdict";

const levels: Record<string, string> = {
  match: "= exact",
  tolerated: "≈ tolerated",
  caution: "! caution",
  wrong: "≠ binds",
  unknown: "? not known",
};

/** What speaks for and against, and what each school says. */
export function ChoicesKept({ plan, chosen, onBack }: { plan: RegearPlan; chosen: string; onBack: () => void }) {
  const own = chosen && chosen !== plan.advice.candidate ? plan.candidates.find((c) => c.id === chosen) : undefined;
  return (
    <div className="rg-why">
      {own && (
        <p className={classes.own}>
          You picked {own.name}, not the recommended one.{" "}
          <button type="button" className="linklike" onClick={onBack}>
            Back to the recommended
          </button>
        </p>
      )}
      <div className="two">
        <div>
          <h2>For it</h2>
          <ul className={`${classes.points} is-for`}>
            {plan.advice.for.map((x) => (
              <li key={x}>{x}</li>
            ))}
          </ul>
        </div>
        <div>
          <h2>Against it</h2>
          <ul className={`${classes.points} is-against`}>
            {plan.advice.against.map((x) => (
              <li key={x}>{x}</li>
            ))}
            {plan.advice.against.length === 0 && <li>Nothing that was weighed.</li>}
          </ul>
        </div>
      </div>
      <h2>The schools</h2>
      <table className={`figures ${classes.schools}`}>
        <thead>
          <tr>
            <th>School</th>
            <th>Asks for</th>
            <th>Takes</th>
            <th>Why</th>
          </tr>
        </thead>
        <tbody>
          {plan.schools.map((s) => (
            <tr key={s.id}>
              <td>
                <b>{s.name}</b>
              </td>
              <td className="num" title={s.formula}>
                {s.target ? s.target.label : s.from || s.to ? `${s.from?.label ?? "…"} – ${s.to?.label ?? "…"}` : "—"}
              </td>
              <td className="num">
                {s.pick
                  ? (plan.variants.find((v) => v.id === s.pick)?.ratio.label ?? `${plan.fitted.label} (installed)`)
                  : "—"}
              </td>
              <td>
                {s.text}
                <small className="dim"> {s.formula}</small>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>{plan.agreement}</p>
      {plan.mass && (
        <p title={plan.mass.formula}>
          <b>Weight of the tires.</b> {plan.mass.text} <small className="dim">{plan.mass.formula}</small>
        </p>
      )}
      {[...plan.change.sentences, ...plan.notes].map((n) => (
        <p key={n} className="dim">
          {n}
        </p>
      ))}
    </div>
  );
}

/** Every set or pair that could go in, best first, with what was weighed. */
export function Choices({
  plan,
  chosen,
  onChoose,
}: {
  plan: RegearPlan;
  chosen: string;
  onChoose: (id: string) => void;
}) {
  const [all, setAll] = useState(false);
  const pairs = plan.candidates.some((c) => c.match);
  const list = all ? plan.candidates : plan.candidates.slice(0, 12);
  const at = chosen || plan.advice.candidate;
  return (
    <div>
      <p className="dim">
        Lower scores are better; one point is about one percent off. Pick another one to see its gears, curves and
        estimate.
      </p>
      <table className={`figures ${classes.choices}`}>
        <thead>
          <tr>
            <th>Use</th>
            <th>Gears</th>
            <th>Ratio</th>
            <th>Against stock</th>
            <th>rpm at cruise</th>
            {pairs && <th>Front : rear</th>}
            <th>Carrier</th>
            <th>Shelf</th>
            <th>Estimate</th>
            <th>Points</th>
          </tr>
        </thead>
        <tbody>
          {list.map((c) => (
            <Choice
              key={c.id}
              plan={plan}
              c={c}
              chosen={c.id === at}
              onChoose={() => onChoose(c.id === plan.advice.candidate ? "" : c.id)}
            />
          ))}
        </tbody>
      </table>
      {plan.candidates.length > 12 && (
        <button type="button" className="linklike" onClick={() => setAll(!all)}>
          {all ? "Only the best twelve" : `All ${plan.candidates.length}`}
        </button>
      )}
      <OtherWays plan={plan} />
    </div>
  );
}

type ChoiceProps = { plan: RegearPlan; c: RegearPlan["candidates"][number]; chosen: boolean; onChoose: () => void };

/** One set or pair, and what was weighed of it. */
function Choice({ plan, c, chosen, onChoose }: ChoiceProps) {
  const v = variantOf(plan, c.id);
  const pairs = plan.candidates.some((x) => x.match);
  const leave = c.id === "leave";
  return (
    <tr className={chosen ? "is-chosen" : c.refused ? "is-wrong" : ""}>
      <td>
        <input type="radio" name="choice" aria-label={c.name} checked={chosen} onChange={onChoose} />
      </td>
      <ChoiceName plan={plan} c={c} />
      <td className="num">{v.ratio.label}</td>
      <td className="num">{change(v.against_stock_percent)}</td>
      <td className="num">{fixed(v.cruise_rpm, 0)}</td>
      {pairs && (
        <td title={c.match?.formula}>
          {c.match
            ? `${levels[c.match.level]}${c.match.percent ? ` ${fixed(Math.abs(c.match.percent), 2)} %` : ""}`
            : ""}
        </td>
      )}
      <td title={c.carriers.map((f) => f.text).join(" ")}>{carrierWords(c)}</td>
      <td>{leave ? "" : c.shelf ? "✓" : "order"}</td>
      <td className="num">
        {c.high && !leave
          ? `${money(c.low?.decimal ?? 0, "")} – ${money(c.high.decimal, plan.currency ?? "")}${c.priced ? "" : " +?"}`
          : ""}
      </td>
      <td className="num">
        <details>
          <summary>{fixed(c.score, 1)}</summary>
          <ul>
            {c.points.map((x) => (
              <li key={x.what + x.text}>
                {fixed(x.points, 1)}: {x.text}
              </li>
            ))}
          </ul>
        </details>
      </td>
    </tr>
  );
}

function carrierWords(c: ChoiceProps["c"]) {
  if (c.carriers.length === 0) return "";
  if (c.carriers.some((f) => f.state === "other")) return "≠ another";
  return c.carriers.some((f) => f.state === "unknown") ? "? look" : "✓ fits";
}

function ChoiceName({ plan, c }: Pick<ChoiceProps, "plan" | "c">) {
  // With more than one axle at an end it is said which ones are opened.
  const several = new Set(plan.axles.map((a) => a.at)).size < plan.axles.length;
  return (
    <td>
      <b>{c.name}</b>
      {c.rear?.common && <small className="tagged">commonly made, not in the lists</small>}
      {(c.also?.length ?? 0) > 0 && (
        <small className="dim" title="Other sets with the same ratio">
          {" "}
          or {c.also?.join(", ")}
        </small>
      )}
      {several && <small className="dim"> opens {c.opens.join(", ").toLowerCase()}</small>}
      {c.refused && <small className="trouble"> {c.refused}</small>}
      {c.schools.length > 0 && (
        <small className="dim">
          {" "}
          {c.schools.map((s) => plan.schools.find((x) => x.id === s)?.name.toLowerCase()).join(", ")}
        </small>
      )}
    </td>
  );
}

/** What else could be changed in place of the axle's gears, and how strong the families are. */
function OtherWays({ plan }: { plan: RegearPlan }) {
  const currency = plan.currency ?? "";
  return (
    <>
      {plan.high_sets.length > 0 && (
        <>
          <h2>Another way out: the high range</h2>
          <ul>
            {plan.high_sets.map((s) => (
              <li key={s.id}>
                <b>{s.name}</b>, {fixed(s.cruise_rpm, 0)} rpm at cruise. {s.text}
                {s.price && ` ${money(s.price.decimal, currency)}`}
                {s.shelf > 0 ? " · on the shelf" : " · to order"}
              </li>
            ))}
          </ul>
        </>
      )}
      {plan.strength.length > 0 && (
        <>
          <h2>Strength of the families, as entered</h2>
          <p className="dim">Equal ring or tube does not mean equally strong. Figures not entered are not compared.</p>
          <ul>
            {plan.strength.map((s) => (
              <li key={s.family}>
                <b>{s.family}</b>: {s.text}
              </li>
            ))}
          </ul>
        </>
      )}
      {plan.low_sets.length > 0 && (
        <>
          <h2>Another way to crawl: the low range</h2>
          <ul>
            {plan.low_sets.map((s) => (
              <li key={s.id}>
                <b>{s.name}</b>, crawl ratio {fixed(s.crawl.decimal, 1)} with the axle left,{" "}
                {fixed(s.crawl_with_recommended.decimal, 1)} with the recommended gears. {s.text}
                {s.price && ` ${money(s.price.decimal, currency)}`}
                {s.shelf > 0 ? " · on the shelf" : " · to order"}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
