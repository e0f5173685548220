import { ActionIcon, Button, Menu, TextInput } from "@mantine/core";
import { IconBookmark } from "@tabler/icons-react";
import { useState } from "react";
import type { DrivelineState, SavedState } from "../../api/client";

/** The states that were kept with a driveline: shown, kept, forgotten. */
export function StatesMenu({
  states,
  onShow,
  onKeep,
  onDrop,
}: {
  states: SavedState[];
  onShow: (s: DrivelineState) => void;
  onKeep?: (name: string) => void;
  onDrop?: (name: string) => void;
}) {
  const [name, setName] = useState("");
  return (
    <Menu position="bottom-end" width={320} closeOnItemClick={false} trapFocus>
      <Menu.Target>
        <ActionIcon variant="subtle" color="gray.1" size="lg" aria-label="Saved positions" className="tool">
          <IconBookmark size={20} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>Saved positions</Menu.Label>
        <Menu.Item onClick={() => onShow({})}>as it starts</Menu.Item>
        {states.map((s) => (
          <div key={s.name} className="row">
            <Menu.Item className="grow" onClick={() => onShow(s.state)}>
              {s.name}
            </Menu.Item>
            {onDrop && (
              <button type="button" className="linklike" aria-label={`Delete ${s.name}`} onClick={() => onDrop(s.name)}>
                −
              </button>
            )}
          </div>
        ))}
        {onKeep && (
          <form
            className="row"
            style={{ padding: "0.4rem" }}
            onSubmit={(e) => {
              e.preventDefault();
              if (!name.trim()) return;
              onKeep(name.trim());
              setName("");
            }}
          >
            <TextInput
              aria-label="Name for these positions"
              placeholder="save these positions as …"
              value={name}
              maxLength={60}
              onChange={(e) => setName(e.currentTarget.value)}
              className="grow"
            />
            <Button type="submit" disabled={!name.trim()}>
              Save
            </Button>
          </form>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
