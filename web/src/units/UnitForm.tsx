import { Button, Textarea, TextInput } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, Refused, take, type Unit } from "../api/client";
import { askAnew, key } from "../api/keys";
import { unitKindWords } from "../format/words";
import { UnitKindSelect } from "./UnitKindSelect";

/**
 * Name, kind and notes, changed over the version that was seen. What is being
 * typed stays while the unit gets readings; where someone else changed the same
 * words meanwhile, both are shown and the technician says which stand.
 */
export function UnitForm({ unit, maySave }: { unit: Unit; maySave: boolean }) {
  const client = useQueryClient();
  const [seen, setSeen] = useState(unit);
  const [name, setName] = useState(unit.name);
  const [kind, setKind] = useState(unit.kind);
  const [notes, setNotes] = useState(unit.notes);
  const changed = name !== seen.name || kind !== seen.kind || notes !== seen.notes;
  const behind = unit.version !== seen.version;
  const follow = (u: Unit) => {
    setSeen(u);
    setName(u.name);
    setKind(u.kind);
    setNotes(u.notes);
  };
  if (behind && !changed) follow(unit);
  const change = useMutation({
    mutationFn: () =>
      take(
        api.PATCH("/units/{id}", {
          params: { path: { id: unit.id } },
          body: { base: seen.version, name, kind, notes },
        }),
      ),
    onSuccess: (u) => {
      client.setQueryData(key.unit(u.id), u);
      follow(u);
      askAnew(client, "unit", u.id);
      notifications.show({ message: "Saved." });
    },
    onError: (e) => {
      if (e instanceof Refused && e.status === 409) {
        askAnew(client, "unit", unit.id);
      }
    },
  });
  const refused = change.error instanceof Refused && change.error.status !== 409 ? change.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    change.mutate();
  };
  return (
    <form className="stack panel" onSubmit={submit}>
      <h2>About this unit</h2>
      <TextInput
        label="Name"
        value={name}
        maxLength={80}
        disabled={!maySave}
        onChange={(e) => setName(e.currentTarget.value)}
        error={refused?.at("/name")}
        required
      />
      <UnitKindSelect value={kind} onChange={setKind} disabled={!maySave} />
      <Textarea
        label="Notes"
        value={notes}
        maxLength={4000}
        autosize
        minRows={4}
        disabled={!maySave}
        onChange={(e) => setNotes(e.currentTarget.value)}
      />
      {behind && changed ? (
        <ChangedMeanwhile
          unit={unit}
          onMine={() => {
            setSeen(unit);
            change.reset();
          }}
          onTheirs={() => follow(unit)}
        />
      ) : (
        change.error && !refused && !behind && changed && <p className="trouble">{change.error.message}</p>
      )}
      {maySave && (
        <Button type="submit" disabled={!changed || behind || !name.trim()} loading={change.isPending}>
          Save
        </Button>
      )}
    </form>
  );
}

/** What someone else made of it while one was typing: one's own words, or theirs. */
function ChangedMeanwhile({ unit, onMine, onTheirs }: { unit: Unit; onMine: () => void; onTheirs: () => void }) {
  return (
    <div className="stack" role="alert">
      <p className="trouble">Someone else changed this unit while you were typing. It now says:</p>
      <p className="as-typed">
        <b>{unit.name}</b> · {unitKindWords[unit.kind]}
        {unit.notes && `\n${unit.notes}`}
      </p>
      <div className="row wrap">
        <Button variant="default" onClick={onMine}>
          Use mine
        </Button>
        <Button variant="default" onClick={onTheirs}>
          Use theirs
        </Button>
      </div>
    </div>
  );
}
