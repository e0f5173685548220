import { Button, NativeSelect, Textarea, TextInput } from "@mantine/core";
import { useState } from "react";
import { api, type Refused, type SetupFigure, type SetupKind, type SetupVerdict, take } from "../../api/client";
import { number } from "../tire/model";
import type { Form } from "./model";
import classes from "./setup.module.css";

type Props = { form: Form; set: (v: Partial<Form>) => void; refused?: Refused; verdict?: SetupVerdict };

/** The maker's figures in use; a whole sheet pasted, or one more typed. */
export function MakersFigures({ form, set, refused, verdict }: Props) {
  const used = verdict?.figures ?? [];
  const add = (list: SetupFigure[]) =>
    set({
      figures: [...form.figures.filter((x) => !list.some((n) => n.figure === x.figure)), ...list],
      ...(list.some((n) => n.figure === "backlash") ? { lash_low: "", lash_high: "" } : {}),
    });
  return (
    <fieldset className="decide-box">
      <legend>The maker's figures</legend>
      {used.length === 0 && <p className="dim">Nothing entered yet.</p>}
      <ul className={classes.figures}>
        {used.map((f) => (
          <li key={f.figure}>
            {f.name}:{" "}
            <b>
              {f.low > 0 && f.low !== f.high ? `${f.low} to ` : ""}
              {f.high} {f.unit}
            </b>{" "}
            <small className="dim">{f.from}</small>
            {form.figures.some((x) => x.figure === f.figure) && (
              <button
                type="button"
                className="linklike"
                onClick={() => set({ figures: form.figures.filter((x) => x.figure !== f.figure) })}
              >
                Remove
              </button>
            )}
          </li>
        ))}
      </ul>
      {refused?.within("/axle/figures") && <p className="trouble">{refused.within("/axle/figures")}</p>}
      <PasteSheet unit={form.unit} kinds={verdict?.kinds ?? []} onFigures={add} />
      <OneFigure unit={form.unit} kinds={verdict?.kinds ?? []} onFigure={(f) => add([f])} />
    </fieldset>
  );
}

type PasteProps = { unit: string; kinds: SetupKind[]; onFigures: (list: SetupFigure[]) => void };

/** A sheet as it is copied from a manual or a message: a figure a line. */
function PasteSheet({ unit, kinds, onFigures }: PasteProps) {
  const [text, setText] = useState("");
  const [says, setSays] = useState<{ text: string; trouble?: boolean }>();
  const read = () =>
    take(api.POST("/calc/setup", { body: { sheet: { text, unit } } })).then(
      ({ sheet }) => {
        const { figures = [], unread = [] } = sheet ?? {};
        onFigures(figures);
        setText(unread.join("\n"));
        const names = figures.map((f) => kinds.find((k) => k.id === f.figure)?.name ?? f.figure).join(", ");
        setSays(
          unread.length === 0
            ? { text: `Read: ${names}.` }
            : {
                text: `${names ? `Read: ${names}. ` : ""}Not understood, still in the box: write the name, the figures and the unit, as Total torque 3 to 4 N·m.`,
                trouble: true,
              },
        );
      },
      (e: Error) => setSays({ text: e.message, trouble: true }),
    );
  return (
    <div className={classes.paste}>
      <Textarea
        label="Paste the maker's figures"
        description="One a line: Backlash 0.15–0.20 mm"
        autosize
        minRows={2}
        maxRows={8}
        maxLength={4000}
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
        error={says?.trouble ? says.text : undefined}
      />
      <Button variant="default" disabled={!text.trim()} onClick={read}>
        Read the figures
      </Button>
      {says && !says.trouble && <p role="status">{says.text}</p>}
    </div>
  );
}

type OneProps = { unit: string; kinds: SetupKind[]; onFigure: (f: SetupFigure) => void };

function OneFigure({ unit: plain, kinds, onFigure }: OneProps) {
  const [figure, setFigure] = useState("backlash");
  const [low, setLow] = useState("");
  const [high, setHigh] = useState("");
  // A length is in the bench's unit unless another is chosen for it.
  const [own, setUnit] = useState("");
  const [source, setSource] = useState("");
  const turns = kinds.find((k) => k.id === figure)?.turns;
  const unit = own || (turns ? "N·m" : plain || "mm");
  return (
    <div className={classes.figureRow}>
      <NativeSelect
        label="Figure"
        value={figure}
        onChange={(e) => {
          setFigure(e.currentTarget.value);
          setUnit("");
        }}
        data={
          kinds.length > 0
            ? kinds.map((k) => ({ value: k.id, label: k.name }))
            : [{ value: "backlash", label: "Backlash" }]
        }
      />
      <TextInput label="From" inputMode="decimal" value={low} onChange={(e) => setLow(e.currentTarget.value)} />
      <TextInput label="to" inputMode="decimal" value={high} onChange={(e) => setHigh(e.currentTarget.value)} />
      <NativeSelect
        label="Unit"
        value={unit}
        onChange={(e) => setUnit(e.currentTarget.value)}
        data={turns ? ["N·m", "lbf·in", "lbf·ft", "kgf·cm"] : ["mm", "in", "thou"]}
      />
      <TextInput
        label="Source"
        placeholder="manual, page"
        value={source}
        onChange={(e) => setSource(e.currentTarget.value)}
      />
      <Button
        variant="default"
        disabled={!high.trim()}
        onClick={() => {
          onFigure({ figure, low: number(low), high: number(high), unit, source: source.trim() || undefined });
          setLow("");
          setHigh("");
        }}
      >
        Add
      </Button>
    </div>
  );
}
