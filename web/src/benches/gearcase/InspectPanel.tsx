import { Button, Chip, NativeSelect } from "@mantine/core";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type GearcaseLook, take, type UnitDriveline } from "../../api/client";
import { askAnew, key } from "../../api/keys";
import { useMaySave } from "../../app/session";
import { useDecide } from "../useDecide";
import classes from "./gearcase.module.css";
import type { Form } from "./model";

type Props = { form: Form; set: (v: Partial<Form>) => void; unit?: number; line?: UnitDriveline };

/** What to look for, in the order in which it comes apart; and where water may have come in. */
export function InspectPanel({ form, set, unit, line }: Props) {
  const part = line?.document.parts.find((p) => p.kind === "gearcase");
  const own = part?.gearcase?.seals ?? form.seals;
  const keepSeals = useSeals(unit, line, part?.id);
  const maySave = useMaySave();
  const looks = useQuery({
    queryKey: key.looks(own),
    queryFn: () => take(api.GET("/calc/gearcase/looks", { params: { query: { seals: own || undefined } } })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const record = useDecide(unit, () => set({ finds: {} }));
  const found = Object.entries(form.finds).filter(([, v]) => v);
  if (!looks.data) return <p className="dim">{looks.error?.message ?? "Loading …"}</p>;
  return (
    <div className={classes.split}>
      <section aria-label="Findings">
        <div className="row">
          <Button
            disabled={!maySave || unit === undefined || found.length === 0}
            loading={record.isPending}
            onClick={() => record.mutate({ kind: "inspection", inspection: found.map(([id, find]) => ({ id, find })) })}
          >
            Record {found.length} findings
          </Button>
          {record.error && <span className="trouble">{record.error.message}</span>}
          {unit === undefined && <span className="dim">Findings are saved with a unit.</span>}
        </div>
        <table className={`figures ${classes.looks}`}>
          <tbody>
            {looks.data.looks.map((l) => (
              <tr key={l.id}>
                <th scope="row">
                  {l.what}
                  {l.seal && <small> · a seal</small>}
                </th>
                <td className="dim">{l.how}</td>
                <td>
                  <NativeSelect
                    aria-label={`Found: ${l.what}`}
                    value={form.finds[l.id] ?? ""}
                    onChange={(e) => set({ finds: { ...form.finds, [l.id]: e.currentTarget.value } })}
                    data={[{ value: "", label: "not looked at" }, ...l.finds]}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section aria-label="Water in the oil">
        <h2>Water in the oil: look here first</h2>
        <p className="dim">Most chance for the least work; typical shares, until your own repairs say otherwise.</p>
        <Sealed
          looks={looks.data.looks}
          own={own}
          may={unit === undefined || maySave}
          onSeals={(words) => (unit === undefined ? set({ seals: words }) : keepSeals.mutate(words))}
          trouble={keepSeals.error?.message}
        />
        <ol className={classes.water}>
          {looks.data.water.map((w) => (
            <li key={w.id}>
              <b>{w.what}</b> · {w.water_percent} of 100 · {w.reach_minutes} min to reach · {w.order}
              <small>{w.why}</small>
            </li>
          ))}
        </ol>
        <p>Pressure and vacuum test before filling: the maker's manual says how much and how long.</p>
      </section>
    </div>
  );
}

/** Keeps with the unit where its gearcase is sealed. */
function useSeals(unit?: number, line?: UnitDriveline, part?: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (seals: string) =>
      take(
        api.PUT("/units/{id}/driveline", {
          params: { path: { id: unit ?? 0 } },
          body: {
            document: {
              ...(line?.document as UnitDriveline["document"]),
              parts: (line?.document.parts ?? []).map((p) =>
                p.id === part ? { ...p, gearcase: { ...p.gearcase, seals: seals || undefined } } : p,
              ),
            },
            states: line?.states,
            base: line?.version ?? 0,
            note: "where this gearcase is sealed",
          },
        }),
      ),
    onSuccess: () => unit !== undefined && askAnew(client, "unit", unit),
  });
}

interface SealedProps {
  looks: GearcaseLook[];
  own?: string;
  may: boolean;
  onSeals: (words: string) => void;
  trouble?: string;
}

/** Where the case is sealed: only there can water come in. */
function Sealed({ looks, own, may, onSeals, trouble }: SealedProps) {
  return (
    <details>
      <summary>Where this case is sealed</summary>
      <div className="row wrap">
        {looks
          .filter((l) => l.seal)
          .map((l) => {
            const all = looks.filter((x) => x.seal).map((x) => x.id);
            const has = own ? own.split(" ") : all;
            return (
              <Chip
                key={l.id}
                size="xs"
                checked={has.includes(l.id)}
                disabled={!may}
                onChange={(on) => {
                  const next = all.filter((x) => (x === l.id ? on : has.includes(x)));
                  onSeals(next.length === all.length ? "" : next.join(" "));
                }}
              >
                {l.what}
              </Chip>
            );
          })}
      </div>
      {trouble && <p className="trouble">{trouble}</p>}
    </details>
  );
}
