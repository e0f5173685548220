import { NativeSelect } from "@mantine/core";
import { api, type Doc, type ShockQuestion, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { bind } from "../../form/bind";
import { useForm } from "../../form/useForm";
import { fixed, typed } from "../../format/numbers";
import { partName } from "../../machine/document";
import { useTrace } from "../../machine/useTrace";
import { Cautions } from "../answer";
import classes from "./findfault.module.css";

const none = {
  wheel: "",
  rpm: "",
  to_rpm: "",
  stop_s: "",
  inertia: "",
  clutch_nm: "",
  set: {} as Record<string, string>,
};
type Form = typeof none;
const still = {};

/** What a spinning wheel that gripped again did to each part in its way. */
export function Shock({ doc, store }: { doc: Doc; store: string }) {
  const { form, set } = useForm<Form>(store, none);
  const wheels = doc.parts.filter((p) => p.kind === "wheel");
  const wheel = form.wheel || wheels[0]?.id || "";
  const { trace } = useTrace(doc, still);
  const { answer, refused, error } = useCalc(
    key.shock,
    {
      driveline: doc,
      state: { select: form.set },
      wheel,
      rpm: typed(form.rpm) ?? 0,
      to_rpm: typed(form.to_rpm),
      stop_s: typed(form.stop_s),
      inertia: typed(form.inertia),
      clutch_nm: typed(form.clutch_nm),
    },
    (body, signal) => take(api.POST("/calc/find-fault/shock", { body, signal })),
    { ready: form.rpm.trim() !== "" },
  );
  const { set: levers, ...words } = form;
  const t = bind<typeof words, ShockQuestion>(words, set, refused);
  return (
    <div className={classes.panel}>
      <div className={classes.fields}>
        <NativeSelect
          label="Which wheel gripped"
          data={wheels.map((w) => ({ value: w.id, label: partName(w) }))}
          value={wheel}
          onChange={(e) => set({ wheel: e.currentTarget.value })}
          error={refused?.within("/wheel") ?? refused?.within("/spins")}
        />
        {t.text("Spun at, rpm", "rpm", { numeric: true, placeholder: "600" })}
        {t.text("after it gripped, rpm", "to_rpm", { numeric: true, placeholder: "0 if it stopped" })}
        {t.text("Gripped within, s", "stop_s", { numeric: true, placeholder: "0.1, typical" })}
        {t.text("Crank and flywheel, kg·m²", "inertia", { numeric: true, placeholder: "0.25, typical" })}
        {t.text("Clutch slips at, N·m", "clutch_nm", { numeric: true, placeholder: "1.8 × the engine's" })}
        {trace?.selectors.map((s) => (
          <NativeSelect
            key={s.id}
            label={s.name}
            data={s.options.map((o) => ({ value: o.value, label: o.words }))}
            value={levers[s.id] ?? s.value}
            onChange={(e) => set({ set: { ...levers, [s.id]: e.currentTarget.value } })}
            error={refused?.within(`/state/select/${s.id}`)}
          />
        ))}
      </div>
      {form.rpm.trim() === "" && <p className="dim">At which speed did the wheel spin?</p>}
      {error && !refused && <p className="trouble">{error.message}</p>}
      {answer && (
        <>
          <h3>{answer.sentence}</h3>
          <table className="figures">
            <tbody>
              {answer.loaded.map((l) => (
                <tr key={l.part + l.name}>
                  <th scope="row">{l.name}</th>
                  <td>{l.used ? `${fixed(100 * l.used, 0)} %` : ""}</td>
                  <td>{l.text}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {answer.typical.length > 0 && <p className="dim">Typical, not entered: {answer.typical.join("; ")}.</p>}
          <Cautions list={answer.cautions} />
        </>
      )}
    </div>
  );
}
