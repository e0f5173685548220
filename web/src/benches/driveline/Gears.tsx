import { TextInput, VisuallyHidden } from "@mantine/core";
import type { Part, Refused } from "../../api/client";
import { readFigure, readTeeth, ValueField } from "../../fields/ValueField";

/** The gears of a gearbox, a line each. */
export function Gears({
  part,
  at,
  refused,
  onPart,
}: {
  part: Part;
  at: string;
  refused?: Refused;
  onPart: (p: Part) => void;
}) {
  const g = part.gearbox;
  if (!g) return null;
  const set = (i: number, change: Partial<(typeof g.gears)[number]>) =>
    onPart({ ...part, gearbox: { ...g, gears: g.gears.map((x, k) => (k === i ? { ...x, ...change } : x)) } });
  return (
    <table className="gears-edit">
      <thead>
        <tr>
          <th>Gear</th>
          {g.arrangement === "ratios" || !g.arrangement ? (
            <th>Ratio (− reverses)</th>
          ) : (
            <>
              <th>Drive</th>
              <th>Driven</th>
              <th>Idler</th>
            </>
          )}
          <th>
            <VisuallyHidden>Gear</VisuallyHidden>
          </th>
        </tr>
      </thead>
      <tbody>
        {g.gears.map((x, i) => {
          const fault = refused?.within(`${at}/gearbox/gears/${i}`);
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: gears are edited in place
            <tr key={i}>
              <td>
                <TextInput
                  size="xs"
                  w={48}
                  aria-label={`Name of gear ${i + 1}`}
                  value={x.name}
                  maxLength={10}
                  error={fault}
                  onChange={(e) => set(i, { name: e.currentTarget.value })}
                />
              </td>
              <Mesh x={x} ratios={g.arrangement === "ratios" || !g.arrangement} set={(v) => set(i, v)} />
              <td>
                <button
                  type="button"
                  className="linklike"
                  aria-label={`Remove gear ${x.name}`}
                  onClick={() => onPart({ ...part, gearbox: { ...g, gears: g.gears.filter((_, k) => k !== i) } })}
                >
                  −
                </button>
              </td>
            </tr>
          );
        })}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={5}>
            <button
              type="button"
              className="linklike"
              onClick={() =>
                onPart({ ...part, gearbox: { ...g, gears: [...g.gears, { name: String(g.gears.length + 1) }] } })
              }
            >
              + a gear
            </button>
          </td>
        </tr>
      </tfoot>
    </table>
  );
}

type Gear = NonNullable<Part["gearbox"]>["gears"][number];

/** The ratio of a gear, or the teeth that make it. */
function Mesh({ x, ratios, set }: { x: Gear; ratios: boolean; set: (v: Partial<Gear>) => void }) {
  return (
    <>
      {ratios ? (
        <td>
          <ValueField
            size="xs"
            w={110}
            aria-label={`Ratio of gear ${x.name}`}
            value={x.ratio || undefined}
            read={readFigure}
            onSet={(ratio) => set({ ratio })}
          />
        </td>
      ) : x.direct ? (
        <td colSpan={3}>direct</td>
      ) : (
        (["drive", "driven", "idler"] as const).map((k) => (
          <td key={k}>
            <ValueField
              size="xs"
              w={52}
              aria-label={`${k} of gear ${x.name}`}
              value={x[k] || undefined}
              read={readTeeth}
              onSet={(n) => set({ [k]: n })}
            />
          </td>
        ))
      )}
    </>
  );
}
