import { SegmentedControl, Switch } from "@mantine/core";

export type Other = { does: "held" | "with"; seen: boolean };

/** What the wheel without a sensor does, and whether somebody watches it. */
export function OtherWheel({ other, onChange }: { other: Other; onChange: (o: Other) => void }) {
  return (
    <div className="row wrap">
      <SegmentedControl
        aria-label="The other wheel"
        value={other.does}
        onChange={(does) => onChange({ ...other, does: does as Other["does"] })}
        data={[
          { value: "with", label: "Other wheel turns with it" },
          { value: "held", label: "Other wheel is held" },
        ]}
      />
      <Switch
        label="Somebody watches it"
        checked={other.seen}
        onChange={(e) => onChange({ ...other, seen: e.currentTarget.checked })}
      />
    </div>
  );
}
