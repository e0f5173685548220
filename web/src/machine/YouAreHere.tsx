import { useNavigate } from "react-router";
import type { Unit, UnitDriveline } from "../api/client";
import { UnitMachine } from "./UnitMachine";

/** The unit's machine, small, on top of a bench: where one is, and the way to its other parts. */
export function YouAreHere({ unit, line, part }: { unit: Unit; line: UnitDriveline; part?: string }) {
  const navigate = useNavigate();
  return (
    <UnitMachine
      small
      doc={line.document}
      stages={unit.stages}
      chosen={part}
      onPart={(to) => {
        const there = unit.stages.filter((s) => s.part === to && s.present);
        navigate(there.length === 1 ? `/stages/${there[0]?.id}` : `/units/${unit.id}?part=${to}`);
      }}
    />
  );
}
