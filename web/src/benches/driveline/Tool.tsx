import { ActionIcon, Tooltip } from "@mantine/core";
import type { ReactNode } from "react";

/** A button of the band: an icon with its name as a tip. */
export function Tool({
  label,
  icon,
  onClick,
  disabled,
}: {
  label: string;
  icon: ReactNode;
  onClick: () => void;
  disabled?: boolean;
}) {
  return (
    <Tooltip label={label}>
      <ActionIcon
        variant="subtle"
        color="gray.1"
        size="lg"
        aria-label={label}
        onClick={onClick}
        disabled={disabled}
        className="tool"
      >
        {icon}
      </ActionIcon>
    </Tooltip>
  );
}
