import { useDebouncedValue } from "@mantine/hooks";
import { useMemo } from "react";

/** A question as it stands once the typing has paused; settled is false until then. */
export function useSettled<T>(value: T, ms: number): { value: T; settled: boolean } {
  // Compared as text: each drawing makes a new object of the same content.
  const now = JSON.stringify(value ?? null);
  const [text] = useDebouncedValue(now, ms);
  return { value: useMemo(() => JSON.parse(text) as T, [text]), settled: text === now };
}
