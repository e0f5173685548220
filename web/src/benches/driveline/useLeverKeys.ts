import { useHotkeys } from "@mantine/hooks";
import type { Doc, DrivelineState, Trace } from "../../api/client";
import { select } from "./model";

const gearLevers = ["gearbox", "gearcase", "upper", "reverse_gear"];

/** Moves the levers by keys: [ and ] shift, l the range, c the center lock, k a locker, 0 starts over. */
export function useLeverKeys(
  doc: Doc,
  trace: Trace | undefined,
  state: DrivelineState,
  setState: (s: DrivelineState) => void,
) {
  const shift = (by: number) => {
    const lever = trace?.selectors.find((x) => gearLevers.includes(doc.parts.find((p) => p.id === x.part)?.kind ?? ""));
    if (!lever || !trace) return;
    const next = lever.options[lever.options.findIndex((o) => o.value === lever.value) + by];
    if (next) setState(select(state, trace, lever.id, next.value));
  };
  const flip = (end: string, values: [string, string]) => {
    const lever = trace?.selectors.find((x) => x.id.endsWith(end));
    if (!lever || !trace) return;
    const wanted = lever.value === values[0] ? values[1] : values[0];
    const next = lever.options.find((o) => o.value === wanted) ?? lever.options.find((o) => o.value !== lever.value);
    if (next) setState(select(state, trace, lever.id, next.value));
  };
  useHotkeys([
    ["]", () => shift(1)],
    ["[", () => shift(-1)],
    ["l", () => flip(".range", ["high", "low"])],
    ["c", () => flip(".center", ["open", "locked"])],
    ["k", () => flip(".lock", ["open", "locked"])],
    ["0", () => setState({})],
  ]);
}
