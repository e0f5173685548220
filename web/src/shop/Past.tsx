import { Drawer } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { api, type CatalogName, take } from "../api/client";
import { key } from "../api/keys";
import { useMaySave } from "../app/session";
import { when } from "../format/numbers";
import type { Cells } from "./useList";

type Props = { name: CatalogName; row?: number; onClose: () => void; onBack: (cells: Cells) => void };

/** What was changed in a list or in one of its rows, by whom and when. */
export function Past({ name, row, onClose, onBack }: Props) {
  const maySave = useMaySave();
  const changes = useQuery({
    queryKey: key.changes(name, row),
    queryFn: () => take(api.GET("/catalog/{list}/changes", { params: { path: { list: name }, query: { row } } })),
  });
  return (
    <Drawer opened onClose={onClose} position="right" title={row ? "This row's past" : "What was changed"} size="md">
      <ol className="history">
        {changes.data?.map((c) => (
          <li key={c.id}>
            <span className="mark" aria-hidden="true">
              {{ added: "+", changed: "✎", removed: "−" }[c.what]}
            </span>
            <div>
              <div>{c.text}</div>
              <small className="dim">
                {c.by}, {when(c.at)}{" "}
                {c.what === "removed" && maySave && c.before && (
                  <button type="button" className="linklike" onClick={() => onBack(c.before ?? {})}>
                    Undo
                  </button>
                )}
              </small>
            </div>
          </li>
        ))}
      </ol>
      {changes.data?.length === 0 && <p className="dim">Nothing was changed since the list began.</p>}
    </Drawer>
  );
}
