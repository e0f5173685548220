import { api, type ShiftQuestion, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { bind } from "../../form/bind";
import { useForm } from "../../form/useForm";
import { fixed, typed } from "../../format/numbers";
import { Cautions } from "../answer";
import classes from "./findfault.module.css";

const none = {
  cable_n: "",
  seal_n: "",
  switch: "works",
  idle_rpm: "",
  move_s: "",
  stroke_mm: "",
  short_mm: "",
  round_mm: "",
  undercut_deg: "",
};
type Form = typeof none;

/** What a sliding dog clutch does when it is shifted, from what was measured at cable, seal, idle and dogs. */
export function ShiftMechanism({ store }: { store: string }) {
  const { form, set } = useForm<Form>(store, none);
  const figures = Object.fromEntries(
    Object.entries(form)
      .filter(([k]) => k !== "switch")
      .map(([k, v]) => [k, typed(v)]),
  );
  const { answer, refused, error } = useCalc(key.shiftMechanism, { ...figures, switch: form.switch }, (body, signal) =>
    take(api.POST("/calc/find-fault/shift", { body, signal })),
  );
  const t = bind<Form, ShiftQuestion>(form, set, refused);
  const n = { numeric: true, placeholder: "typical" };
  return (
    <div className={classes.panel}>
      <div className={classes.fields}>
        {t.text("Cable drag, N", "cable_n", n)}
        {t.text("Shift shaft drag, N", "seal_n", n)}
        {t.choice("Shift interrupt switch", "switch", [
          { value: "works", label: "works" },
          { value: "open", label: "sticks open" },
          { value: "closed", label: "never opens" },
        ])}
        {t.text("Idle in gear, rpm", "idle_rpm", n)}
        {t.text("The hand takes, s", "move_s", n)}
        {t.text("Dog stroke, mm", "stroke_mm", n)}
        {t.text("of that missing, mm", "short_mm", n)}
        {t.text("Rounded corners, mm", "round_mm", n)}
        {t.text("Dog undercut, °", "undercut_deg", n)}
      </div>
      {error && !refused && <p className="trouble">{error.message}</p>}
      {answer && (
        <>
          <h3>{answer.sentence}</h3>
          <table className="figures">
            <tbody>
              {answer.out.map((g) => (
                <tr key={g.gear}>
                  <th scope="row">out of {g.gear}</th>
                  <td>{fixed(g.force_n, 0)} N at the cable</td>
                  <td>
                    shift interrupt switch open {fixed(g.open_s, 2)} s, engine turns on {fixed(g.stands_s, 2)} s
                  </td>
                </tr>
              ))}
              <tr>
                <th scope="row">going in</th>
                <td>{fixed(answer.bite_mm, 2)} mm in one pass</td>
                <td>{fixed(answer.need_mm, 2)} mm needed</td>
              </tr>
              <tr>
                <th scope="row">under full load</th>
                <td>{fixed(answer.in_mm, 1)} mm in</td>
                <td>{answer.push_n > 0 ? `pushed apart with ${fixed(answer.push_n, 0)} N` : "drawn in"}</td>
              </tr>
            </tbody>
          </table>
          {answer.typical.length > 0 && <p className="dim">Typical, not entered: {answer.typical.join("; ")}.</p>}
          <ul>
            {answer.advice.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
          <Cautions list={answer.cautions} />
        </>
      )}
    </div>
  );
}
