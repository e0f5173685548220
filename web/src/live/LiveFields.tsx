import { Button } from "@mantine/core";
import { IconCamera, IconDeviceMobile, IconFileTypeCsv, IconPlugConnected } from "@tabler/icons-react";
import { type ComponentType, useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import { useSession } from "../app/session";
import type { FieldsProps } from "../benches/identify/methods/method";
import { atAxle } from "../benches/identify/methods/method";
import { CameraPanel } from "./CameraPanel";
import { FilePanel } from "./FilePanel";
import classes from "./live.module.css";
import { SessionPanel } from "./SessionPanel";

type Source = "sensors" | "phones" | "camera" | "file";

const sources: Record<Source, { name: string; icon: ComponentType<{ size?: number }> }> = {
  phones: { name: "Phones", icon: IconDeviceMobile },
  sensors: { name: "Shaft sensors", icon: IconPlugConnected },
  camera: { name: "Camera", icon: IconCamera },
  file: { name: "Recorded file", icon: IconFileTypeCsv },
};

/** A live count within the identify bench: where it comes from, and the machine as it is turned. */
export function LiveFields(p: FieldsProps) {
  const [source, setSource] = useState<Source | undefined>(
    p.draft.liveSession ? p.draft.liveSession.source : undefined,
  );
  const person = useSession().data?.person;
  const back = () => {
    const id = p.draft.liveSession?.id;
    // A count that nothing came of; should this not arrive, it ends by itself.
    if (id) void api.POST("/live/{id}/end", { params: { path: { id } }, body: { kept: false } });
    p.set({ live: undefined, liveSession: undefined });
    setSource(undefined);
  };
  const joined = source === "phones" || source === "sensors";
  if (!source)
    return (
      <fieldset className={classes.sources}>
        <legend>What counts?</legend>
        {Object.entries(sources).map(([id, s]) => (
          <Button
            key={id}
            size="lg"
            variant="default"
            leftSection={<s.icon size={22} />}
            onClick={() => setSource(id as Source)}
          >
            {s.name}
          </Button>
        ))}
        {p.error("live") && <p className="trouble">{p.error("live")}</p>}
      </fieldset>
    );
  return (
    <>
      {source === "file" && <FilePanel {...p} />}
      {source === "camera" && <CameraPanel {...p} />}
      {joined && !person && (
        <p>
          Phones and shaft sensors need a sign-in. <Link to="/sign-in">Sign in</Link>, or use the camera or a recorded
          file.
        </p>
      )}
      {joined && person && (
        <SessionPanel {...p} source={source as "phones" | "sensors"} atAxle={atAxle(p.question.kind)} />
      )}
      <div>
        <Button variant="subtle" size="compact-sm" onClick={back}>
          Count another way
        </Button>
      </div>
    </>
  );
}
