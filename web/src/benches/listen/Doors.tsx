import { Button } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, reason, type SoundAnswer, take, type Unit } from "../../api/client";
import { askAnew } from "../../api/keys";
import { keep } from "../../app/local";
import { useMaySave } from "../../app/session";
import type { Done } from "../findfault/tests";

const signs: Record<string, string> = {
  hums: "Hums with road speed",
  shakes: "Shakes, more with speed",
  whine_drive: "Whines under power",
  whine_coast: "Whines on coast",
};

/** What a named sound leads to in its unit: the search for the fault, and the teeth of the axle by ear. */
export function Doors({ unit, a }: { unit: Unit; a: SoundAnswer }) {
  const go = useNavigate();
  const client = useQueryClient();
  const maySave = useMaySave();
  const top = a.sources[0];
  const stage = unit.stages.find((s) => s.present && s.question.kind === "ring_and_pinion");
  const find = () => {
    const done: Done[] = a.signs.map((sign) => ({
      title: `Recorded: ${signs[sign] ?? sign}`,
      what: top?.name ?? "",
      evidence: [{ sign, says: "yes", complaint: true, words: a.sentence }],
    }));
    keep(`zorvel.findfault.${unit.id}`, { done, stands: false });
    go(`/units/${unit.id}/find-fault`);
  };
  const teeth = useMutation({
    mutationFn: () =>
      take(
        api.POST("/stages/{id}/readings", {
          params: { path: { id: stage?.id ?? 0 } },
          body: {
            readings: [
              {
                reading: { method: "teeth", teeth: { ring: top?.ring ?? 0, pinion: top?.pinion ?? 0 } },
                note: `By ear, from ${a.seconds} s at ${Math.round(a.from_kmh)} to ${Math.round(a.to_kmh)} km/h`,
                key: crypto.randomUUID(),
              },
            ],
          },
        }),
      ),
    onSuccess: () => {
      askAnew(client, "unit", unit.id);
      askAnew(client, "ratios");
      notifications.show({ message: `Saved: ${top?.ring}:${top?.pinion} teeth, by ear.` });
    },
    onError: (e) => notifications.show({ color: "red", title: "Not saved", message: reason(e), autoClose: 12_000 }),
  });
  const byEar = a.state === "told" && top?.ring && top.chance >= 0.9 && stage && maySave;
  if (a.signs.length === 0 && !byEar) return null;
  return (
    <div className="row wrap">
      {a.signs.length > 0 && <Button onClick={find}>Find the fault from here</Button>}
      {byEar && (
        <Button variant="default" loading={teeth.isPending} disabled={teeth.isSuccess} onClick={() => teeth.mutate()}>
          Save {top.ring}:{top.pinion} as a reading
        </Button>
      )}
    </div>
  );
}
