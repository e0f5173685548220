import { Loader } from "@mantine/core";
import { Link, useParams } from "react-router";
import { useTitle } from "../../app/title";
import { LooseLayout } from "../../machine/LooseLayout";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { FreePlayBench } from "./FreePlayBench";

/** The free play of a unit, on its own driveline. */
export function UnitFreePlayPage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  useTitle("Free play", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  return (
    <FreePlayBench
      store={`zorvel.freeplay.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · free play</span>
        </>
      }
      unit={id}
      doc={line.document}
    />
  );
}

/** The same on a ready driveline. */
export function LooseFreePlayPage() {
  useTitle("Free play");
  return (
    <LooseLayout store="zorvel.freeplay.layout" first="rear_drive">
      {(doc, id, choose) => (
        <FreePlayBench
          key={id}
          store={`zorvel.freeplay.loose.${id}`}
          title={<span>Free play of a driveline</span>}
          doc={doc}
          choose={choose}
        />
      )}
    </LooseLayout>
  );
}
