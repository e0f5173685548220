import { Button, NativeSelect, TextInput } from "@mantine/core";
import type { Part, Refused } from "../../api/client";
import { kinds, measurable, ratioNames } from "../../machine/parts";
import { getField, setField } from "../../machine/parts/fields";
import { Gears } from "./Gears";
import { benchFields, FieldInput, NumberField, Optional } from "./inputs";
import { SourceMark } from "./PowerPanel";
import "./driveline.css";

type FormProps = {
  part: Part;
  at: string;
  refused?: Refused;
  mayWrite: boolean;
  onPart: (p: Part) => void;
  onMeasure?: (p: Part, ratio: string) => void;
};

export function PartForm({ part, at, refused, mayWrite, onPart, onMeasure }: FormProps) {
  const kind = kinds[part.kind];
  const fault = (path: string) => refused?.field(`${at}/${part.kind}/${path.replaceAll(".", "/")}`);
  // What was read at the bench is changed at the bench, not here.
  const linked = (name: string) => Boolean(part.sources?.[name]?.stage && part.sources[name].probability);
  const atBench = linked("ratio");
  return (
    <div className="stack tight">
      <TextInput
        label="Name"
        size="xs"
        value={part.name ?? ""}
        maxLength={80}
        onChange={(e) => onPart({ ...part, name: e.currentTarget.value })}
      />
      <div className="part-fields">
        {(kind.fields ?? [])
          .filter((f) => !f.when || f.when(part))
          .map((f) => (
            <FieldInput
              key={f.path}
              field={f}
              part={part}
              error={fault(f.path)}
              fixed={atBench && benchFields.has(f.path)}
              onPart={onPart}
            />
          ))}
        {kind.stages?.map(([path, label]) => (
          <Optional
            key={path}
            label={label}
            on={Boolean(getField(part, path))}
            onSet={(on) => onPart(setField(part, path, on ? {} : undefined))}
          />
        ))}
        <About part={part} at={at} refused={refused} onPart={onPart} />
      </div>
      {part.gearbox && <Gears part={part} at={at} refused={refused} onPart={onPart} />}
      {ratioNames(part).length > 0 && (
        <table className="sources">
          <tbody>
            {ratioNames(part).map((n) => (
              <Source
                key={n}
                part={part}
                name={n}
                linked={linked(n)}
                onPart={onPart}
                onMeasure={mayWrite && onMeasure && measurable(part, n) ? () => onMeasure(part, n) : undefined}
              />
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

/** How it is mounted and shifted, which gears fit it, and what it bears. */
function About({ part, at, refused, onPart }: Pick<FormProps, "part" | "at" | "refused" | "onPart">) {
  const kind = kinds[part.kind];
  return (
    <>
      {kind.mounts && (
        <NativeSelect
          size="xs"
          label="Mounted"
          value={part.mounting ?? "upright"}
          onChange={(e) => onPart({ ...part, mounting: e.currentTarget.value as Part["mounting"] })}
          data={[
            { value: "upright", label: "upright" },
            { value: "turned_over", label: "turned over" },
            { value: "end_for_end", label: "turned end for end" },
          ]}
        />
      )}
      {kind.actuated && (
        <NativeSelect
          size="xs"
          label="Shifted or locked through"
          value={part.actuation ?? ""}
          onChange={(e) => onPart({ ...part, actuation: (e.currentTarget.value || undefined) as Part["actuation"] })}
          data={[
            { value: "", label: "not known" },
            { value: "lever", label: "lever and fork" },
            { value: "cable", label: "cable" },
            { value: "motor", label: "motor" },
            { value: "air", label: "air" },
            { value: "vacuum", label: "vacuum" },
            { value: "hydraulic", label: "oil pressure" },
          ]}
        />
      )}
      {kind.family && (
        <TextInput
          size="xs"
          label="Gear family"
          title="As the shop's list names the sets that fit this housing"
          maxLength={60}
          value={part.family ?? ""}
          onChange={(e) => onPart({ ...part, family: e.currentTarget.value || undefined })}
        />
      )}
      {kind.rated && (
        <NumberField
          label="Rated input torque, N·m"
          value={part.rated_nm}
          error={refused?.field(`${at}/rated_nm`)}
          onSet={(v) => onPart({ ...part, rated_nm: v })}
        />
      )}
    </>
  );
}

type SourceProps = {
  part: Part;
  name: string;
  linked: boolean;
  onPart: (p: Part) => void;
  onMeasure?: () => void;
};

/** Where a ratio of the part comes from, and the way to its bench. */
function Source({ part, name, linked, onPart, onMeasure }: SourceProps) {
  const s = part.sources?.[name];
  return (
    <tr>
      <td>{name === "ratio" ? "The ratio is" : `${name}:`}</td>
      <td>
        {linked ? (
          <SourceMark kind={s?.kind ?? "unknown"} text={s?.text} probability={s?.probability} />
        ) : (
          <NativeSelect
            size="xs"
            aria-label={`Where ${name} comes from`}
            value={s?.kind ?? "unknown"}
            onChange={(e) =>
              onPart({
                ...part,
                sources: { ...part.sources, [name]: { kind: e.currentTarget.value as "plate", stage: s?.stage } },
              })
            }
            data={[
              { value: "unknown", label: "not known" },
              { value: "plate", label: "from the plate" },
              { value: "assumed", label: "assumed" },
              { value: "measured", label: "measured elsewhere" },
            ]}
          />
        )}
      </td>
      <td>
        {onMeasure && (
          <Button size="compact-xs" color="brass.4" autoContrast onClick={onMeasure}>
            {linked ? "Open the bench" : "Count it"}
          </Button>
        )}
      </td>
    </tr>
  );
}
