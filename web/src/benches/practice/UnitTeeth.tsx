import { NativeSelect } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type OwnTask, take } from "../../api/client";
import { key } from "../../api/keys";

/** Takes title and teeth from an axle of one of the shop's units, where they are known. */
export function UnitTeeth({ onPick }: { onPick: (t: Partial<OwnTask>) => void }) {
  const [unit, setUnit] = useState("");
  const units = useQuery({ queryKey: key.units(""), queryFn: () => take(api.GET("/units")) });
  const line = useQuery({
    queryKey: key.driveline(Number(unit)),
    queryFn: () => take(api.GET("/units/{id}/driveline", { params: { path: { id: Number(unit) } } })),
    enabled: unit !== "",
  });
  const axles = (line.data?.document.parts ?? []).filter((p) => p.axle?.ring && p.axle.pinion);
  const name = units.data?.find((u) => String(u.id) === unit)?.name;
  return (
    <>
      <NativeSelect
        label="From a unit of the shop"
        description="Or leave it, and enter the teeth yourself."
        value={unit}
        onChange={(e) => setUnit(e.currentTarget.value)}
        data={[
          { value: "", label: "none" },
          ...(units.data ?? []).map((u) => ({ value: String(u.id), label: u.name })),
        ]}
      />
      {unit !== "" && line.data && (
        <NativeSelect
          label="Its axle"
          data={[
            { value: "", label: axles.length === 0 ? "no axle with known teeth" : "choose" },
            ...axles.map((p) => ({ value: p.id, label: p.name ?? p.id })),
          ]}
          onChange={(e) => {
            const p = axles.find((x) => x.id === e.currentTarget.value);
            if (!p?.axle) return;
            onPick({
              title: `${name}, ${(p.name ?? p.id).toLowerCase()}`,
              stage: { kind: "ring_and_pinion" },
              teeth: { ring: p.axle.ring ?? 0, pinion: p.axle.pinion ?? 0 },
            });
          }}
        />
      )}
    </>
  );
}
