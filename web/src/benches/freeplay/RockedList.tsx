import { Button, NativeSelect, TextInput } from "@mantine/core";
import { IconPlus, IconTrash } from "@tabler/icons-react";
import classes from "./freeplay.module.css";
import { noRocked, type Rocked, type Rocking } from "./useRocked";

/** Each shaft that was rocked, how far it went, and what was held; and one more. */
export function RockedList({ rocking }: { rocking: Rocking }) {
  const { measured, set, answer, name, startOver } = rocking;
  const now = measured[measured.length - 1] ?? noRocked;
  return (
    <>
      <ol className={classes.measured}>
        {measured.map((m, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: measurements are known by their order
          <Row key={i} rocking={rocking} m={m} i={i} />
        ))}
      </ol>
      <div className="row wrap">
        <Button
          variant="default"
          leftSection={<IconPlus size={16} />}
          disabled={measured.length >= 12}
          onClick={() =>
            set({
              measured: [
                ...measured,
                { ...noRocked, at: now.at, hold: answer?.next_hold ? [...now.hold, answer.next_hold] : now.hold },
              ],
            })
          }
        >
          {answer?.next_hold ? `Rock it again with the ${name(answer.next_hold)} held` : "Another measurement"}
        </Button>
        <Button variant="default" onClick={startOver}>
          Start over
        </Button>
      </div>
    </>
  );
}

function Row({ rocking, m, i }: { rocking: Rocking; m: Rocked; i: number }) {
  const { measured, put, refused, shafts, set, name } = rocking;
  return (
    <li className={i === measured.length - 1 ? classes.current : ""}>
      <NativeSelect
        label="Rocked"
        value={m.at}
        onChange={(e) => put({ at: e.currentTarget.value }, i)}
        error={refused?.field(`/measured/${i}/at`)}
        data={[{ value: "", label: "which shaft?" }, ...shafts.map((s) => ({ value: s.id, label: s.name }))]}
      />
      <TextInput
        label={m.radius.trim() ? "Arc, mm, stop to stop" : "Degrees, stop to stop"}
        inputMode="decimal"
        value={m.angle}
        placeholder="what is usual?"
        onChange={(e) => put({ angle: e.currentTarget.value }, i)}
        error={refused?.field(`/measured/${i}/degrees`) ?? refused?.field(`/measured/${i}/arc_mm`)}
      />
      <TextInput
        label="On a rim of radius, mm"
        inputMode="decimal"
        value={m.radius}
        placeholder="for an arc"
        onChange={(e) => put({ radius: e.currentTarget.value }, i)}
        error={refused?.field(`/measured/${i}/radius_mm`)}
      />
      <Button
        variant="default"
        aria-label={`Remove measurement ${i + 1}`}
        disabled={measured.length === 1}
        onClick={() => set({ measured: measured.filter((_, k) => k !== i) })}
      >
        <IconTrash size={16} />
      </Button>
      <p>
        Held: {m.hold.length === 0 ? "nothing by hand" : m.hold.map(name).join(", ")}
        {m.hold.length > 0 && (
          <button type="button" className="linklike" onClick={() => put({ hold: [] }, i)}>
            let go
          </button>
        )}
      </p>
    </li>
  );
}
