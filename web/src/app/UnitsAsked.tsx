import { Button } from "@mantine/core";
import { useKept } from "./local";
import { measures, useUnits } from "./units";

/** Says once in which units figures are shown, and offers the others. */
export function UnitsAsked() {
  const [units, setUnits] = useUnits();
  const [asked, settle] = useKept("zorvel.units.asked", false);
  if (asked) return null;
  const other = units === "metric" ? "inch" : "metric";
  return (
    <p className="units-asked">
      <span>
        Figures are in <b>{measures[units]}</b>.
      </span>
      <Button
        variant="default"
        onClick={() => {
          setUnits(other);
          settle(true);
        }}
      >
        Use {measures[other]}
      </Button>
      <Button variant="subtle" onClick={() => settle(true)}>
        Keep {measures[units]}
      </Button>
    </p>
  );
}
