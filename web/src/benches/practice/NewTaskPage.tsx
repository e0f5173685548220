import { Button, Checkbox, NativeSelect, NumberInput, Textarea, TextInput } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, type OwnTask, Refused, take } from "../../api/client";
import { key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useTitle } from "../../app/title";
import classes from "./practice.module.css";
import { UnitTeeth } from "./UnitTeeth";

export const gearsOf: Record<string, [member: string, name: string][]> = {
  ring_and_pinion: [
    ["ring", "Ring gear"],
    ["pinion", "Pinion"],
  ],
  gearcase: [
    ["gear", "Forward gear"],
    ["pinion", "Pinion"],
  ],
  transfer_case: [
    ["sun", "Sun gear"],
    ["ring", "Ring gear"],
  ],
  two_stage: [
    ["ring", "Ring gear"],
    ["pinion", "Pinion"],
    ["sun", "Sun gear"],
    ["planet_ring", "Planetary ring gear"],
  ],
};

const kinds = [
  { value: "ring_and_pinion", label: "Axle: ring and pinion" },
  { value: "two_stage", label: "Two-stage axle: ring and pinion, then planetary set" },
  { value: "transfer_case", label: "Transfer case, low range: planetary set" },
  { value: "gearcase", label: "Gearcase: forward gear and pinion" },
];

const blank: OwnTask = {
  format: "zorvel-task-1",
  title: "",
  story: "",
  stage: { kind: "ring_and_pinion" },
  teeth: {},
};

/** A teacher hides a unit of the shop, with a story of his own. */
export function NewTaskPage() {
  useTitle("Make a task", "Practice");
  const [task, setTask] = useState(blank);
  const go = useNavigate();
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: () => take(api.POST("/practice/tasks", { body: { key: crypto.randomUUID(), task } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: key.practice("tasks") });
      go("/practice");
    },
  });
  const set = (part: Partial<OwnTask>) => setTask({ ...task, ...part });
  const faults = save.error instanceof Refused ? save.error.faults : [];
  const at = (field: string) => faults.find((f) => f.field === `/task/${field}`)?.message;
  const kind = task.stage.kind;
  const wheels = kind === "ring_and_pinion" || kind === "two_stage";
  return (
    <>
      <Band>
        <h1>
          <Link to="/practice">Practice</Link>
          <span> · make a task</span>
        </h1>
      </Band>
      <main id="main" className="page">
        <form
          className={classes.task}
          onSubmit={(e) => {
            e.preventDefault();
            save.mutate();
          }}
        >
          <UnitTeeth onPick={(t) => set(t)} />
          <TextInput
            label="Title"
            required
            maxLength={100}
            value={task.title}
            onChange={(e) => set({ title: e.currentTarget.value })}
            error={at("title")}
          />
          <Textarea
            label="Story for the learner"
            required
            maxLength={1000}
            autosize
            minRows={2}
            value={task.story}
            onChange={(e) => set({ story: e.currentTarget.value })}
            error={at("story")}
          />
          <NativeSelect
            label="What it is"
            data={kinds}
            value={kind}
            onChange={(e) => {
              const k = e.currentTarget.value as OwnTask["stage"]["kind"];
              set({ stage: k === "transfer_case" ? { kind: k, position: "low" } : { kind: k }, teeth: {} });
            }}
          />
          <fieldset className={classes.truth}>
            <legend>The truth, hidden from the learner</legend>
            <div className={classes.row}>
              {(gearsOf[kind] ?? []).map(([member, name]) => (
                <NumberInput
                  key={member}
                  label={`${name}, teeth`}
                  allowDecimal={false}
                  min={1}
                  value={task.teeth[member] ?? ""}
                  onChange={(v) => set({ teeth: { ...task.teeth, [member]: Number(v) } })}
                />
              ))}
            </div>
            {at("teeth") && <p role="alert">{at("teeth")}</p>}
          </fieldset>
          <div className={classes.row}>
            <TextInput
              label="The tag says"
              description="Empty: no tag"
              value={task.tag ?? ""}
              onChange={(e) => set({ tag: e.currentTarget.value || undefined })}
              error={at("tag")}
            />
            <TextInput
              label="Stamped"
              description="Empty: nothing"
              value={task.stamp ?? ""}
              onChange={(e) => set({ stamp: e.currentTarget.value || undefined })}
              error={at("stamp")}
            />
          </div>
          {wheels && (
            <div className={classes.row}>
              <Checkbox
                label="Limited slip"
                checked={task.limited_slip ?? false}
                onChange={(e) => set({ limited_slip: e.currentTarget.checked || undefined })}
              />
              <NativeSelect
                label="Seized brake"
                data={[
                  { value: "", label: "none" },
                  { value: "left", label: "left" },
                  { value: "right", label: "right" },
                ]}
                value={task.stuck ?? ""}
                onChange={(e) => set({ stuck: e.currentTarget.value || undefined })}
                error={at("stuck")}
              />
            </div>
          )}
          {save.error && faults.length === 0 && <p role="alert">{save.error.message}</p>}
          <Button type="submit" loading={save.isPending}>
            Save the task
          </Button>
        </form>
      </main>
    </>
  );
}
