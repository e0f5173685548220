import { NativeSelect } from "@mantine/core";
import type { Doc, PracticeOffer } from "../../api/client";
import { partName } from "../../machine/document";
import { OverMachine } from "../../machine/OverMachine";
import { useTrace } from "../../machine/useTrace";
import classes from "./practice.module.css";

const still = {};

type Props = { doc: Doc; part: string; onPart: (id: string) => void; offers: PracticeOffer[] };

/** The whole unit as it should be: a part that is tapped leaves the tests that are made there. */
export function WholeMachine({ doc, part, onPart, offers }: Props) {
  const { trace } = useTrace(doc, still);
  const tested = doc.parts.filter((p) => offers.some((o) => o.part === p.id));
  const pick = (id: string) => onPart(id === part || !tested.some((p) => p.id === id) ? "" : id);
  return (
    <div className={classes.whole}>
      {trace && (
        <OverMachine
          doc={doc}
          trace={trace}
          chosenPart={part || undefined}
          onPart={pick}
          onShaft={(id) => pick(id.split(".")[0] ?? "")}
          fit
        >
          {() => null}
        </OverMachine>
      )}
      {tested.length > 0 && (
        <NativeSelect
          label="Tests at"
          description="Or tap a part of the machine."
          value={part}
          onChange={(e) => onPart(e.currentTarget.value)}
          data={[{ value: "", label: "all of it" }, ...tested.map((p) => ({ value: p.id, label: partName(p) }))]}
        />
      )}
    </div>
  );
}
