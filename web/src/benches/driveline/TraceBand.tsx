import { Button, SegmentedControl } from "@mantine/core";
import { useClipboard } from "@mantine/hooks";
import { notifications } from "@mantine/notifications";
import { IconArrowBackUp, IconArrowForwardUp, IconDeviceFloppy, IconLink } from "@tabler/icons-react";
import type { ReactNode } from "react";
import type { Doc, DrivelineState, SavedState } from "../../api/client";
import { Band } from "../../app/Band";
import type { useHistory } from "./history";
import type { Work } from "./model";
import { StatesMenu } from "./StatesMenu";
import { Tool } from "./Tool";

export type View = "power" | "grip" | "build" | "gears" | "shifts" | "stands" | "compare";

export const views: { value: View; label: string }[] = [
  { value: "power", label: "Power" },
  { value: "grip", label: "Grip" },
  { value: "build", label: "Build" },
  { value: "gears", label: "Gears" },
  { value: "shifts", label: "Shifts" },
  { value: "stands", label: "On stands" },
  { value: "compare", label: "Compare" },
];

const viewsOf = (doc: Doc) =>
  doc.lies === "vehicle"
    ? views
    : views
        .filter((v) => v.value !== "grip" && v.value !== "shifts")
        .map((v) => (v.value === "stands" ? { ...v, label: "By hand" } : v));

type Props = {
  title: ReactNode;
  view: View;
  onView: (v: View) => void;
  work: ReturnType<typeof useHistory<Work>>;
  onState: (s: DrivelineState) => void;
  states: SavedState[];
  dirty?: boolean;
  saving?: boolean;
  /** Left out where nothing may be saved. */
  onSave?: (d: Doc, states: SavedState[]) => void;
  extra?: ReactNode;
};

/** The head of the bench: what it is, which view of it, undo, saved positions, save. */
export function TraceBand({ title, view, onView, work, onState, states, dirty, saving, onSave, extra }: Props) {
  const clipboard = useClipboard();
  const { doc, state } = work.now;
  const copy = () => {
    clipboard.copy(window.location.href);
    notifications.show({ message: "Link copied. It opens with these lever positions." });
  };
  const keep = (name: string) => onSave?.(doc, [...states.filter((x) => x.name !== name), { name, state }]);
  const drop = (name: string) =>
    onSave?.(
      doc,
      states.filter((x) => x.name !== name),
    );
  return (
    <Band className="trace-band">
      <h1>{title}</h1>
      <SegmentedControl
        size="sm"
        value={view}
        onChange={(v) => onView(v as View)}
        data={viewsOf(doc)}
        aria-label="View"
        className="no-print"
      />
      <span className="grow" />
      <div className="row no-print">
        <Tool label="Undo (Ctrl Z)" onClick={work.undo} disabled={!work.canUndo} icon={<IconArrowBackUp size={20} />} />
        <Tool
          label="Redo (Ctrl Y)"
          onClick={work.redo}
          disabled={!work.canRedo}
          icon={<IconArrowForwardUp size={20} />}
        />
        <StatesMenu
          states={states}
          onShow={onState}
          onKeep={onSave ? keep : undefined}
          onDrop={onSave ? drop : undefined}
        />
        <Tool label="Copy a link to these positions" onClick={copy} icon={<IconLink size={20} />} />
        {onSave && (
          <Button
            color="brass.4"
            autoContrast
            leftSection={<IconDeviceFloppy size={18} />}
            disabled={!dirty}
            loading={saving}
            onClick={() => onSave(doc, states)}
          >
            {dirty ? "Save" : "Saved"}
          </Button>
        )}
        {extra}
      </div>
    </Band>
  );
}
