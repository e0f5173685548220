import { Button } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, reason, take, type Unit } from "../api/client";
import { askAnew, key } from "../api/keys";
import { when } from "../format/numbers";

function useArchive(unit: Unit) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (archived: boolean) =>
      take(api.PUT("/units/{id}/archived", { params: { path: { id: unit.id } }, body: { archived } })),
    onSuccess: (u) => {
      client.setQueryData(key.unit(u.id), u);
      askAnew(client, "unit", u.id);
      notifications.show({
        message: u.archived ? "Archived. You can bring it back any time." : "Back from the archive.",
      });
    },
    onError: (e) => notifications.show({ color: "red", title: "Nothing was changed", message: reason(e) }),
  });
}

/** Puts a unit away. Nothing of it is lost, and it can be taken back. */
export function Archive({ unit }: { unit: Unit }) {
  const archive = useArchive(unit);
  return (
    <div className="row wrap">
      <Button variant="default" loading={archive.isPending} onClick={() => archive.mutate(true)}>
        Archive this unit
      </Button>
      <small className="dim">Off the list and off what is due. Nothing is deleted.</small>
    </div>
  );
}

/** Says that a unit was put away, and takes it back. */
export function ArchivedNote({ unit, maySave }: { unit: Unit; maySave: boolean }) {
  const archive = useArchive(unit);
  if (!unit.archived) return null;
  return (
    <div className="page row wrap" role="status">
      <b>
        Archived by {unit.archived.by}, {when(unit.archived.at)}.
      </b>
      <span>The list shows it only with archived units, and nothing on it comes due.</span>
      {maySave && (
        <Button variant="default" size="compact-md" loading={archive.isPending} onClick={() => archive.mutate(false)}>
          Bring back
        </Button>
      )}
    </div>
  );
}
