import { Button, Modal, NativeSelect, Switch } from "@mantine/core";
import { IconArrowsExchange, IconPlus, IconTrash } from "@tabler/icons-react";
import { useState } from "react";
import type { Doc, Part, Refused } from "../../api/client";
import { insertPart, partName, removal, setPart, swapPart } from "../../machine/document";
import { BodyForm } from "./BodyForm";
import { Insert, Swap } from "./PartDialogs";
import { PartForm } from "./PartForm";

type Props = {
  doc: Doc;
  part?: string;
  refused?: Refused;
  mayWrite: boolean;
  broken: string[];
  onBroken: (parts: string[]) => void;
  onDoc: (d: Doc) => void;
  onPart: (id: string | undefined) => void;
  /** Opens the bench that measures a ratio, making the stage if need be. */
  onMeasure?: (p: Part, ratio: string) => void;
};

/** Parts along the line: what they are, what is known of them, insert, swap, remove. */
export function BuildPanel({ doc, part, refused, mayWrite, broken, onBroken, onDoc, onPart, onMeasure }: Props) {
  const p = doc.parts.find((q) => q.id === part);
  const [adding, setAdding] = useState(false);
  const [swapping, setSwapping] = useState(false);
  const [removing, setRemoving] = useState<Part[]>();
  const index = doc.parts.findIndex((q) => q.id === part);
  const remove = () => {
    const r = p && removal(doc, p.id);
    if (!r) return;
    if (r.gone.length > 1) setRemoving(r.gone);
    else {
      onDoc(r.doc);
      onPart(undefined);
    }
  };
  return (
    <div className="build-panel">
      <NativeSelect
        label="Part"
        value={part ?? ""}
        onChange={(e) => onPart(e.currentTarget.value || undefined)}
        data={[
          { value: "", label: "About the vehicle" },
          ...doc.parts.map((q) => ({ value: q.id, label: partName(q) })),
        ]}
      />
      <Tools
        onInsert={() => setAdding(true)}
        onSwap={p && (() => setSwapping(true))}
        onRemove={p && remove}
        last={Boolean(p && !removal(doc, p.id))}
      />
      {p && p.kind !== "engine" && (
        <Switch
          mt="xs"
          size="xs"
          label="Show as broken: passes no torque"
          checked={broken.includes(p.id)}
          onChange={(e) => onBroken(e.currentTarget.checked ? [...broken, p.id] : broken.filter((x) => x !== p.id))}
        />
      )}
      {p ? (
        <PartForm
          key={p.id}
          part={p}
          at={`/driveline/parts/${index}`}
          refused={refused}
          onPart={(q) => onDoc(setPart(doc, q))}
          mayWrite={mayWrite}
          onMeasure={onMeasure}
        />
      ) : (
        <BodyForm doc={doc} refused={refused} onDoc={onDoc} />
      )}
      {adding && (
        <Insert
          doc={doc}
          onClose={() => setAdding(false)}
          onInsert={(port, kind) => {
            const r = insertPart(doc, port, kind);
            onDoc(r.doc);
            onPart(r.id);
            setAdding(false);
          }}
        />
      )}
      {swapping && p && (
        <Swap
          kind={p.kind}
          onClose={() => setSwapping(false)}
          onSwap={(from, source) => {
            onDoc(swapPart(doc, p.id, from, source));
            setSwapping(false);
          }}
        />
      )}
      <Modal opened={Boolean(removing)} onClose={() => setRemoving(undefined)} title="Removes what it drives, too">
        <p>{removing?.map(partName).join(", ")}</p>
        <Button
          color="red.8"
          onClick={() => {
            const r = p && removal(doc, p.id);
            if (r) onDoc(r.doc);
            onPart(undefined);
            setRemoving(undefined);
          }}
        >
          Remove {removing?.length} parts
        </Button>
      </Modal>
    </div>
  );
}

type ToolsProps = { onInsert: () => void; onSwap?: () => void; onRemove?: () => void; last: boolean };

/** What can be done with the line, and with the part that is chosen. */
function Tools({ onInsert, onSwap, onRemove, last }: ToolsProps) {
  return (
    <div className="row wrap">
      <Button size="compact-sm" variant="default" leftSection={<IconPlus size={14} />} onClick={onInsert}>
        Insert
      </Button>
      {onSwap && (
        <Button size="compact-sm" variant="default" leftSection={<IconArrowsExchange size={14} />} onClick={onSwap}>
          Swap
        </Button>
      )}
      {onRemove && (
        <Button
          size="compact-sm"
          variant="default"
          leftSection={<IconTrash size={14} />}
          onClick={onRemove}
          disabled={last}
          title={last ? "This is the last part: nothing would be left to turn" : undefined}
        >
          Remove
        </Button>
      )}
    </div>
  );
}
