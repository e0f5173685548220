import { Button } from "@mantine/core";
import { useNavigate } from "react-router";
import type { CardRun, WorkStep } from "../../api/client";
import { useKept } from "../../app/local";
import { useUnit } from "../useUnit";
import { type Away, awayStore } from "./useRun";

/** Where a reading of this step goes: its bench, and from there back to the card. */
export function BenchDoor({ run, step }: { run: CardRun; step: WorkStep }) {
  const navigate = useNavigate();
  const [, setAway] = useKept<Away>(awayStore, null);
  const { unit } = useUnit(run.unit_id);
  if (!step.bench || !unit) return null;
  const stage = unit.stages.find((x) => x.present && x.part === run.part) ?? unit.stages.find((x) => x.present);
  const at = `/units/${run.unit_id}`;
  const part = run.part ? `?part=${run.part}` : "";
  const doors: Record<string, [string, string]> = {
    identify: [stage ? `/stages/${stage.id}` : at, "Count or turn"],
    setup: [`${at}/set-up${part}`, "Set up"],
    freeplay: [`${at}/free-play${part}`, "Free play"],
    fits: [`${at}/set-up${part ? `${part}&` : "?"}tab=fits`, "Does it fit?"],
    gearcase: [`${at}/gearcase`, "Gearcase"],
    changegears: [`${at}/change-gears`, "Change gears"],
    speedometer: [`${at}/speedometer`, "Speedometer"],
    trace: [`${at}/trace`, "Trace"],
  };
  const door = doors[step.bench];
  if (!door) return null;
  return (
    <Button
      size="lg"
      variant="default"
      onClick={() => {
        setAway({ run: run.id, title: run.title, step: step.do });
        navigate(door[0]);
      }}
    >
      {door[1]} …
    </Button>
  );
}
