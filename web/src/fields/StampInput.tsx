import { TextInput, type TextInputProps } from "@mantine/core";
import { api, take } from "../api/client";
import { key } from "../api/keys";
import { useCalc } from "../api/useCalc";

type Props = Omit<TextInputProps, "value" | "onChange"> & {
  value: string;
  onChange: (v: string) => void;
  unit?: string;
  /** The case's gears by their letters; none for a pinion's mark. */
  gears?: { id: string; name: string }[];
  /** It need not name every gear. */
  some?: boolean;
};

/** What a stamp says, as soon as something is typed. */
export function useStamp(stamp: string, unit?: string, gears?: Props["gears"], some?: boolean) {
  return useCalc(
    key.stamp,
    { stamp, unit: unit || undefined, gears, some },
    (body, signal) => take(api.POST("/calc/stamp", { body, signal })),
    { ready: stamp.trim() !== "", keep: false },
  );
}

/** A stamp as it stands on the part, with what was understood of it while it is typed. */
export function StampInput({ value, onChange, unit, gears, some, error, ...more }: Props) {
  const { answer, refused } = useStamp(value, unit, gears, some);
  const said = answer && [answer.said && `Read: ${answer.said}.`, ...answer.asks].filter(Boolean).join(" ");
  return (
    <TextInput
      {...more}
      autoComplete="off"
      value={value}
      onChange={(e) => onChange(e.currentTarget.value)}
      description={said || undefined}
      inputWrapperOrder={["label", "input", "description", "error"]}
      error={error ?? refused?.field("/stamp")}
    />
  );
}
