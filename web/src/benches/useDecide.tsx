import { notifications } from "@mantine/notifications";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, type NewDecision, take } from "../api/client";
import { askAnew } from "../api/keys";

/** What shows a unit's past is out of date. */
export function useTouchUnit(unit?: number) {
  const client = useQueryClient();
  return () => {
    askAnew(client, "decisions", unit);
  };
}

/** Records a decision in a unit's history and says so. */
export function useDecide(unit?: number, then?: () => void) {
  const touch = useTouchUnit(unit);
  return useMutation({
    mutationFn: (body: NewDecision) =>
      take(api.POST("/units/{id}/decisions", { params: { path: { id: unit ?? 0 } }, body })),
    onSuccess: (d) => {
      touch();
      then?.();
      notifications.show({
        message: (
          <>
            Recorded: {d.title.replace(/\.$/, "")}.
            {d.sheet && (
              <>
                {" "}
                <a href={`/api/v1/decisions/${d.id}/pdf`} target="_blank" rel="noreferrer">
                  Print the sheet
                </a>
              </>
            )}
          </>
        ),
        autoClose: 12_000,
      });
    },
  });
}
