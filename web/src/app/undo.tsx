import { Button } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { reason } from "../api/client";

/** How long something can be undone from where it was done. */
const long = 20_000;

/** Says what was done, and offers to undo it. */
export function undoable(done: string, undo: () => Promise<unknown>, words = "Undo") {
  const id = crypto.randomUUID();
  notifications.show({
    id,
    autoClose: long,
    message: (
      <span className="row spread">
        <span>{done}</span>
        <Button
          size="compact-md"
          variant="default"
          onClick={() => {
            notifications.hide(id);
            undo().catch((e) =>
              notifications.show({
                color: "red",
                title: "Undo failed",
                message: reason(e),
                autoClose: 12_000,
              }),
            );
          }}
        >
          {words}
        </Button>
      </span>
    ),
  });
}
