import { Button, NativeSelect, NumberInput } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { useState } from "react";
import type { DrillAnswer, DrillCard, Refused } from "../../api/client";
import classes from "./practice.module.css";

type Props = {
  card: DrillCard;
  onAnswer: (a: DrillAnswer) => void;
  refused?: Refused;
  /** What was put where, of a thing that is built. */
  built: Record<string, string>;
  onBuilt: (b: Record<string, string>) => void;
};

/** How a card is answered: a number, one of the choices (keys 1 to 9), or what goes where. */
export function AnswerForm({ card, onAnswer, refused, built, onBuilt }: Props) {
  const trouble = refused?.faults.map((f) => f.message).join(" ");
  if (card.takes === "number") return <NumberAnswer unit={card.unit} onAnswer={onAnswer} trouble={trouble} />;
  if (card.takes === "build")
    return <Built card={card} onAnswer={onAnswer} trouble={trouble} at={built} setAt={onBuilt} />;
  return <Choices card={card} onAnswer={onAnswer} />;
}

function NumberAnswer({
  unit,
  onAnswer,
  trouble,
}: {
  unit?: string;
  onAnswer: (a: DrillAnswer) => void;
  trouble?: string;
}) {
  const [value, setValue] = useState<string | number>("");
  return (
    <form
      className={classes.row}
      onSubmit={(e) => {
        e.preventDefault();
        if (value !== "") onAnswer({ value: Number(value) });
      }}
    >
      <NumberInput
        label={`Your answer, in ${unit ?? "figures"}`}
        value={value}
        onChange={setValue}
        inputMode="decimal"
        autoFocus
        data-autofocus
        error={trouble}
      />
      <Button type="submit" disabled={value === ""} className={classes.low}>
        Answer
      </Button>
    </form>
  );
}

function Choices({ card, onAnswer }: { card: DrillCard; onAnswer: (a: DrillAnswer) => void }) {
  const list = card.choices ?? [];
  useHotkeys(list.map((c, i) => [String(i + 1), () => onAnswer({ choice: c.id })]));
  return (
    <fieldset className={classes.choices} aria-label={card.ask}>
      {list.map((c, i) => (
        <button key={c.id} type="button" onClick={() => onAnswer({ choice: c.id })}>
          <kbd>{i + 1}</kbd> {c.words}
        </button>
      ))}
    </fieldset>
  );
}

type BuiltProps = {
  card: DrillCard;
  onAnswer: (a: DrillAnswer) => void;
  trouble?: string;
  at: Record<string, string>;
  setAt: (b: Record<string, string>) => void;
};

function Built({ card, onAnswer, trouble, at, setAt }: BuiltProps) {
  const places = card.places ?? [];
  return (
    <form
      className={classes.form}
      onSubmit={(e) => {
        e.preventDefault();
        onAnswer({ built: at });
      }}
    >
      <div className={classes.row}>
        {places.map((p) => (
          <NativeSelect
            key={p.id}
            label={p.name}
            value={at[p.id] ?? ""}
            onChange={(e) => setAt({ ...at, [p.id]: e.currentTarget.value })}
            data={[{ value: "", label: "choose" }, ...p.choices.map((c) => ({ value: c.id, label: c.words }))]}
          />
        ))}
      </div>
      {trouble && <p role="alert">{trouble}</p>}
      <Button type="submit" disabled={places.some((p) => !at[p.id])}>
        Try it around a corner
      </Button>
    </form>
  );
}
