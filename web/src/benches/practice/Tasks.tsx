import { Alert, Button } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, type OwnTask, take } from "../../api/client";
import { key } from "../../api/keys";
import { useKept } from "../../app/local";
import { useMaySave, useSession } from "../../app/session";
import { FileButton } from "../../fields/FileButton";
import classes from "./practice.module.css";

const noTask: OwnTask | null = null;

/** Tasks that a teacher made: of the shop, or from a file. */
export function Tasks() {
  const person = useSession().data?.person;
  const mayMake = useMaySave();
  const list = useQuery({
    queryKey: key.practice("tasks"),
    queryFn: () => take(api.GET("/practice/tasks")),
    enabled: Boolean(person),
  });
  return (
    <section aria-labelledby="tasks">
      <h2 id="tasks">A teacher's tasks</h2>
      {list.data && list.data.length > 0 && (
        <ul className={classes.drills}>
          {list.data.map((t) => (
            <li key={t.id}>
              <Link to={`/practice/task/${t.id}`}>
                <b>{t.title}</b>
                <span>
                  {t.story} By {t.by}.
                </span>
              </Link>
              {mayMake && <Teacher id={t.id} title={t.title} />}
            </li>
          ))}
        </ul>
      )}
      <div className={classes.row}>
        <FromFile mayMake={mayMake} />
        {mayMake && (
          <Button component={Link} to="/practice/new-task" variant="default">
            Make a task
          </Button>
        )}
      </div>
    </section>
  );
}

/** The file with the truth, and the way out. */
function Teacher({ id, title }: { id: number; title: string }) {
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: () => take(api.DELETE("/practice/tasks/{id}", { params: { path: { id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: key.practice("tasks") }),
  });
  return (
    <span className={classes.row}>
      <Button
        component="a"
        size="xs"
        variant="default"
        href={`/api/v1/practice/tasks/${id}`}
        download={`${title}.json`}
      >
        Save as a file
      </Button>
      <Button
        size="xs"
        variant="subtle"
        color="red"
        loading={remove.isPending}
        onClick={() => window.confirm(`Remove the task ${title}? A file of it stays.`) && remove.mutate()}
      >
        Remove
      </Button>
    </span>
  );
}

/** Opens a task's file: whoever may saves it for the class, anybody else works at it here. */
function FromFile({ mayMake }: { mayMake: boolean }) {
  const go = useNavigate();
  const client = useQueryClient();
  const [, setOwn] = useKept<OwnTask | null>("zorvel.practice.task", noTask);
  const [trouble, setTrouble] = useState("");
  const save = useMutation({
    mutationFn: (task: OwnTask) => take(api.POST("/practice/tasks", { body: { key: crypto.randomUUID(), task } })),
    onSuccess: () => client.invalidateQueries({ queryKey: key.practice("tasks") }),
    onError: (e) => setTrouble(e.message),
  });
  const open = (text: string) => {
    setTrouble("");
    let task: OwnTask;
    try {
      task = JSON.parse(text);
    } catch {
      setTrouble("This is no task: choose a file that was saved with Save as a file.");
      return;
    }
    if (task?.format !== "zorvel-task-1") {
      setTrouble("This is no task: choose a file that was saved with Save as a file.");
      return;
    }
    if (mayMake) save.mutate(task);
    else {
      setOwn(task);
      go("/practice/task/file");
    }
  };
  return (
    <>
      <FileButton name="A task's file" accept=".json,application/json" variant="default" onText={open}>
        Import a task
      </FileButton>
      {trouble && (
        <Alert color="red" role="alert">
          {trouble}
        </Alert>
      )}
    </>
  );
}
