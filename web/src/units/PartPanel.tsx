import { Button, Modal, NativeSelect, Textarea } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { api, type Part, Refused, type StageSummary, take, type Unit, type UnitDriveline } from "../api/client";
import { askAnew, key } from "../api/keys";
import { StateMark } from "../drawing/StateMark";
import { chance, label } from "../format/numbers";
import { Signed } from "../format/Signed";
import { partName } from "../machine/document";
import { kinds } from "../machine/parts";
import classes from "./unit.module.css";

type Props = { unit: Unit; line: UnitDriveline; part: Part; maySave: boolean; onClose: () => void };

/** A part of the machine: its ratios with the way to their benches, and what was fitted here. */
export function PartPanel({ unit, line, part, maySave, onClose }: Props) {
  const [fitting, setFitting] = useState<"gears_swapped" | "part_swapped">();
  const stages = unit.stages.filter((s) => s.part === part.id);
  const fittings = line.fittings.filter((f) => f.part === part.id);
  const kind = kinds[part.kind].words;
  return (
    <div className="stack tight">
      <div className="row spread">
        <h2>{partName(part)}</h2>
        <Button size="compact-sm" variant="subtle" onClick={onClose}>
          Close
        </Button>
      </div>
      {kind !== partName(part) && <small className="dim">{kind}</small>}
      {stages.length > 0 ? (
        <ul className={classes.ratios}>
          {stages.map((s) => (
            <li key={s.id}>
              <Link to={`/stages/${s.id}`} aria-label={`Measure: ${s.name}`}>
                <span>{ratioWords(s)}</span>
                <b>
                  {s.label
                    ? `${label(s.label.label)} · ${chance(s.label.probability)}`
                    : (s.about ?? sourceWords(part, s))}
                </b>
                <small className="dim">{s.readings === 1 ? "1 reading" : `${s.readings} readings`}</small>
                {s.trouble ? <small className="trouble">{s.trouble}</small> : <StateMark state={s.state} />}
              </Link>
            </li>
          ))}
        </ul>
      ) : (
        <p className="dim">This part has no ratio to count or turn.</p>
      )}
      {maySave && stages.length > 0 && (
        <div className="row wrap">
          <Button size="compact-sm" variant="default" onClick={() => setFitting("gears_swapped")}>
            Gears swapped
          </Button>
          <Button size="compact-sm" variant="default" onClick={() => setFitting("part_swapped")}>
            Another one was fitted
          </Button>
        </div>
      )}
      {fittings.length > 0 && (
        <ul className={classes.fittings}>
          {[...fittings].reverse().map((f) => (
            <li key={f.id}>
              {f.what === "gears_swapped" ? "Gears swapped in this housing" : "Another one fitted"}
              {f.note && `: ${f.note}`}
              <br />
              <small className="dim">
                <Signed by={f.by} at={f.at} takenIn={f.taken_in} />
              </small>
            </li>
          ))}
        </ul>
      )}
      <Link to={`/units/${unit.id}/trace?view=build`}>How it is built</Link>
      {fitting && <Fit unit={unit} line={line} part={part} what={fitting} onClose={() => setFitting(undefined)} />}
    </div>
  );
}

function ratioWords(s: StageSummary): string {
  const q = s.question;
  if (q.kind === "gearbox") return s.ratio === "R" ? "Reverse" : `Gear ${s.ratio}`;
  if (q.kind === "transfer_case")
    return { high: "High range", low: "Low range", front: "Front against rear" }[s.ratio] ?? s.ratio;
  return "Its ratio";
}

function sourceWords(part: Part, s: StageSummary): string {
  return part.sources?.[s.ratio]?.kind === "plate" ? "from the plate" : "?";
}

/** Says that something else is in it now: what was measured before stands aside. */
function Fit({
  unit,
  line,
  part,
  what,
  onClose,
}: {
  unit: Unit;
  line: UnitDriveline;
  part: Part;
  what: "gears_swapped" | "part_swapped";
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [note, setNote] = useState("");
  const [from, setFrom] = useState("");
  const shop = useQuery({
    queryKey: key.parts(part.kind),
    queryFn: () => take(api.GET("/parts", { params: { query: { kind: part.kind } } })),
    enabled: what === "part_swapped",
  });
  const fitted = shop.data?.find((p) => String(p.id) === from)?.part;
  const fit = useMutation({
    mutationFn: () =>
      take(
        api.POST("/units/{id}/fittings", {
          params: { path: { id: unit.id } },
          body: { part: part.id, what, note, base: line.version, fitted },
        }),
      ),
    onSuccess: (d) => {
      client.setQueryData(key.driveline(unit.id), d);
      askAnew(client, "unit", unit.id);
      askAnew(client, "ratios");
      notifications.show({ message: "Saved. Earlier readings no longer count." });
      onClose();
    },
    onError: (e) => {
      if (e instanceof Refused && e.status === 409) askAnew(client, "driveline", unit.id);
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    fit.mutate();
  };
  const name = partName(part);
  return (
    <Modal
      opened
      onClose={onClose}
      title={
        what === "gears_swapped" ? `${name}: gears were swapped in this housing` : `${name}: another one was fitted`
      }
    >
      <form className="stack" onSubmit={submit}>
        <p>
          Its ratios are unknown until measured. Earlier readings stay on record with the gears they were taken on, but
          no longer count.
        </p>
        {what === "part_swapped" && (
          <NativeSelect
            label="What was fitted"
            value={from}
            onChange={(e) => setFrom(e.currentTarget.value)}
            data={[
              { value: "", label: "same type, ratio not known" },
              ...(shop.data ?? []).map((p) => ({ value: String(p.id), label: `${p.name} (by its plate)` })),
            ]}
          />
        )}
        <Textarea
          label="Note"
          placeholder="what went in, where it came from, why"
          value={note}
          maxLength={400}
          autosize
          minRows={2}
          onChange={(e) => setNote(e.currentTarget.value)}
          data-autofocus
        />
        {fit.error && <p className="trouble">{fit.error.message}</p>}
        <Button type="submit" loading={fit.isPending}>
          Save what was fitted
        </Button>
      </form>
    </Modal>
  );
}
