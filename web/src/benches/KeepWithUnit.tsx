import { Button } from "@mantine/core";
import type { NewDecision } from "../api/client";
import { useMaySave } from "../app/session";
import { useDecide } from "./useDecide";

type Props = {
  unit?: number;
  record: NewDecision;
  children?: string;
  small?: boolean;
  disabled?: boolean;
  loose?: string;
};

/** Keeps what a bench says with the unit; without one it says where it stays. */
export function KeepWithUnit({ unit, record, children = "Save with the unit", small, disabled, loose }: Props) {
  const decide = useDecide(unit);
  const maySave = useMaySave();
  if (unit === undefined) return loose ? <span className="dim">{loose}</span> : null;
  return (
    <>
      <Button
        size={small ? "compact-sm" : undefined}
        variant={small ? "default" : undefined}
        disabled={!maySave || disabled}
        loading={decide.isPending}
        onClick={() => decide.mutate(record)}
      >
        {children}
      </Button>
      {decide.error && <span className="trouble">{decide.error.message}</span>}
    </>
  );
}
