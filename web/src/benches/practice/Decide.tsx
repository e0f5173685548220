import { Button, Select, Slider, TextInput } from "@mantine/core";
import { useState } from "react";
import type { PracticeAct, PracticeAsked } from "../../api/client";
import classes from "./practice.module.css";

const sureWords = (p: number) =>
  p >= 99
    ? "certain"
    : p >= 90
      ? "I would order it"
      : p >= 70
        ? "fairly sure"
        : p >= 40
          ? "more or less a guess"
          : "don't know";

/** The decision, and how sure the learner is of it. */
export function Decide({ asked, act }: { asked: PracticeAsked; act: (a: PracticeAct) => void }) {
  const [answer, setAnswer] = useState("");
  const [sure, setSure] = useState(50);
  return (
    <form
      className={classes.decide}
      aria-label="Your decision"
      onSubmit={(e) => {
        e.preventDefault();
        act({ do: "decide", answer: answer.trim(), sure });
      }}
    >
      {asked.choices ? (
        <Select
          label={asked.words}
          searchable
          value={answer || null}
          onChange={(v) => setAnswer(v ?? "")}
          data={asked.choices.map((c) => ({ value: c.id, label: c.words }))}
          nothingFoundMessage="Nothing here has these words."
        />
      ) : (
        <TextInput
          label={asked.words}
          placeholder={asked.example}
          value={answer}
          onChange={(e) => setAnswer(e.currentTarget.value)}
        />
      )}
      <div className={classes.sure}>
        <span id="sure">
          How sure are you? <b>{sure} %</b>, {sureWords(sure)}
        </span>
        <Slider
          thumbLabel="How sure are you, in percent"
          value={sure}
          onChange={setSure}
          step={5}
          min={0}
          max={100}
          label={null}
        />
        <small>Say what you believe: bluffing costs more than it brings.</small>
      </div>
      <Button type="submit" disabled={answer.trim() === ""}>
        Decide
      </Button>
    </form>
  );
}
