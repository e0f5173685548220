import { Button, Checkbox, TextInput } from "@mantine/core";
import { IconPrinter } from "@tabler/icons-react";
import { useQuery } from "@tanstack/react-query";
import { api, take, type WorkChecks } from "../api/client";
import { key } from "../api/keys";
import { useKept } from "../app/local";
import { useMaySave } from "../app/session";
import { useDecide } from "../benches/useDecide";
import { useLast } from "../benches/useLast";
import { when } from "../format/numbers";
import classes from "./card.module.css";

type Done = Record<string, { done: boolean; figure: string }>;
const nothing: Done = {};

/** A work card: each step with its tool, figure, look and caution; checked off, kept with the unit, taken up again. */
export function CardPanel({ id, store, unit }: { id: string; store: string; unit?: number }) {
  const maySave = useMaySave();
  const cards = useQuery({
    queryKey: key.cards(),
    queryFn: () => take(api.GET("/calc/cards")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [done, setDone] = useKept<Done>(store, nothing);
  const record = useDecide(unit);
  const last = useLast(unit, "card");
  const before = last?.question as unknown as WorkChecks | undefined;
  const card = cards.data?.find((c) => c.id === id);
  if (!card) return <p className="dim">{cards.error?.message ?? "Loading …"}</p>;
  const put = (step: string, v: Partial<Done[string]>) =>
    setDone({ ...done, [step]: { ...(done[step] ?? { done: false, figure: "" }), ...v } });
  const checks = card.steps
    .filter((s) => done[s.id]?.done)
    .map((s) => ({ step: s.id, figure: done[s.id]?.figure.trim() || undefined }));
  return (
    <div className="stack">
      <div className="row spread wrap no-print">
        <div className="row wrap">
          <Button
            disabled={!maySave || unit === undefined || checks.length === 0}
            loading={record.isPending}
            onClick={() => record.mutate({ kind: "card", card: { card: id, checks } })}
          >
            Keep with the unit: {checks.length} of {card.steps.length} steps
          </Button>
          <Button variant="default" onClick={() => setDone(nothing)}>
            Begin again
          </Button>
          {record.error && <span className="trouble">{record.error.message}</span>}
        </div>
        <Button variant="default" leftSection={<IconPrinter size={16} />} onClick={() => window.print()}>
          Print
        </Button>
      </div>
      {last && before?.card === id && checks.length === 0 && (
        <p className={classes.last}>
          {last.title}, {last.by}, {when(last.at)}.{" "}
          <button
            type="button"
            className="linklike"
            onClick={() =>
              setDone(Object.fromEntries(before.checks.map((c) => [c.step, { done: true, figure: c.figure ?? "" }])))
            }
          >
            Take it up from there
          </button>
        </p>
      )}
      <ol className={classes.steps}>
        {card.steps.map((s) => (
          <li key={s.id} className={done[s.id]?.done ? classes.done : ""}>
            <Checkbox
              size="md"
              label={s.do}
              checked={done[s.id]?.done ?? false}
              onChange={(e) => put(s.id, { done: e.currentTarget.checked })}
            />
            <div className={classes.more}>
              {s.caution && <p className={classes.caution}>△ {s.caution}</p>}
              {s.with && <p>With: {s.with}</p>}
              {s.look && <p>Look: {s.look}</p>}
              {s.figure && (
                <TextInput
                  label={s.figure}
                  value={done[s.id]?.figure ?? ""}
                  maxLength={200}
                  onChange={(e) => put(s.id, { figure: e.currentTarget.value })}
                />
              )}
            </div>
          </li>
        ))}
      </ol>
    </div>
  );
}
