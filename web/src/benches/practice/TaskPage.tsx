import { useParams } from "react-router";
import { api, type OwnTask, take } from "../../api/client";
import { useKept } from "../../app/local";
import { Hidden } from "./UnitPage";
import { useUnitTask } from "./useUnitTask";

const noTask: OwnTask | null = null;

/** A teacher's task: of the shop, or from a file on this device. It counts for no level. */
export function TaskPage() {
  const { task = "file" } = useParams();
  const [own] = useKept<OwnTask | null>("zorvel.practice.task", noTask);
  const id = Number(task);
  const work = useUnitTask({ kind: "own", level: 1, seed: Number.isNaN(id) ? 0 : id }, (q, signal) =>
    Number.isNaN(id)
      ? take(api.POST("/calc/practice", { body: { ...q, own: own ?? undefined }, signal }))
      : take(api.POST("/practice/tasks/{id}/work", { params: { path: { id } }, body: { acts: q.acts ?? [] }, signal })),
  );
  return <Hidden work={work} about="A teacher's task" />;
}
