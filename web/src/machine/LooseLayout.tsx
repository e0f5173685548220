import { Loader, Select } from "@mantine/core";
import type { ReactNode } from "react";
import { blocking } from "../api/blocking";
import type { Doc } from "../api/client";
import { useKept } from "../app/local";
import { SignInFirst } from "../people/SignInFirst";
import { useLayouts } from "./useLayouts";

type Props = {
  /** Where the choice is kept on this device. */
  store: string;
  first: string;
  children: (doc: Doc, id: string, choose: ReactNode) => ReactNode;
};

/** A bench without a unit: on a ready driveline that is chosen on top. */
export function LooseLayout({ store, first, children }: Props) {
  const layouts = useLayouts();
  const [id, setID] = useKept(store, first);
  const stop = blocking(layouts);
  if (stop) return <SignInFirst error={stop} />;
  if (!layouts.data) return <Loader m="xl" />;
  const chosen = layouts.data.find((l) => l.id === id) ?? layouts.data[0];
  if (!chosen) return null;
  return children(
    chosen.document,
    chosen.id,
    <Select
      aria-label="Driveline"
      value={chosen.id}
      onChange={(v) => v && setID(v)}
      data={layouts.data.map((l) => ({ value: l.id, label: l.name }))}
    />,
  );
}
