import { Button, NativeSelect, TextInput } from "@mantine/core";
import { api, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useKept } from "../../app/local";
import classes from "./findfault.module.css";

type Row = { name: string; face: string; noticed: string };
const blank: Row = { name: "", face: "unseen", noticed: "" };
const rows: Row[] = [blank, blank];

const faces = [
  { value: "unseen", label: "not looked at" },
  { value: "beach", label: "rings from one corner: fatigue" },
  { value: "clean", label: "grainy all over: sudden overload" },
  { value: "polished", label: "rubbed smooth: it kept running after it broke" },
  { value: "struck", label: "dented by something hard" },
];

/** Which of several broken parts broke first, where their faces or the order of events tell. */
export function FirstBroken({ store }: { store: string }) {
  const [list, keep] = useKept<Row[]>(store, rows);
  const broken = list
    .filter((r) => r.name.trim())
    .map((r) => ({ name: r.name.trim(), face: r.face, noticed: Number(r.noticed) || undefined }));
  const { answer, refused, error } = useCalc(
    key.firstBroken,
    { broken },
    (body, signal) => take(api.POST("/calc/find-fault/first", { body, signal })),
    { ready: broken.length > 1 },
  );
  const set = (i: number, v: Partial<Row>) => keep(list.map((r, k) => (k === i ? { ...r, ...v } : r)));
  return (
    <div className={classes.panel}>
      {list.map((r, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows have no names yet
        <div key={i} className={classes.fields}>
          <TextInput
            label={`Part ${i + 1}`}
            value={r.name}
            onChange={(e) => set(i, { name: e.currentTarget.value })}
            error={refused?.within(`/broken/${i}/name`)}
          />
          <NativeSelect
            label="Break surface"
            data={faces}
            value={r.face}
            onChange={(e) => set(i, { face: e.currentTarget.value })}
          />
          <NativeSelect
            label="Noticed"
            data={[
              { value: "", label: "not known" },
              { value: "1", label: "first" },
              { value: "2", label: "second" },
              { value: "3", label: "third" },
            ]}
            value={r.noticed}
            onChange={(e) => set(i, { noticed: e.currentTarget.value })}
          />
        </div>
      ))}
      <div className="row">
        <Button variant="default" size="compact-md" disabled={list.length >= 12} onClick={() => keep([...list, blank])}>
          Another part
        </Button>
        <Button variant="default" size="compact-md" onClick={() => keep(rows)}>
          Clear
        </Button>
      </div>
      {broken.length < 2 && <p className="dim">Name at least two parts that are broken.</p>}
      {error && !refused && <p className="trouble">{error.message}</p>}
      {answer && (
        <>
          <h3>{answer.sentence}</h3>
          <ul>
            {answer.why.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
