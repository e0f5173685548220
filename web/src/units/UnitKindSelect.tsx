import { NativeSelect } from "@mantine/core";
import type { UnitKind } from "../api/client";
import { unitKindWords } from "../format/words";

const data = Object.entries(unitKindWords).map(([value, label]) => ({ value, label }));

type Props = { value: UnitKind; onChange: (k: UnitKind) => void; disabled?: boolean };

/** What sort of unit it is. */
export function UnitKindSelect({ value, onChange, disabled }: Props) {
  return (
    <NativeSelect
      label="Kind of unit"
      value={value}
      disabled={disabled}
      onChange={(e) => onChange(e.currentTarget.value as UnitKind)}
      data={data}
    />
  );
}
