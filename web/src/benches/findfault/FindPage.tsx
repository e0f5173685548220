import { Loader } from "@mantine/core";
import { Link, useParams } from "react-router";
import { useTitle } from "../../app/title";
import { LooseLayout } from "../../machine/LooseLayout";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { FindBench } from "./FindBench";

/** What is broken in a unit, on its own driveline. */
export function UnitFindPage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  useTitle("Find the fault", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  return (
    <FindBench
      store={`zorvel.findfault.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · find the fault</span>
        </>
      }
      name={unit.name}
      unit={id}
      doc={line.document}
    />
  );
}

/** The same on a ready driveline. */
export function LooseFindPage() {
  useTitle("Find the fault");
  return (
    <LooseLayout store="zorvel.findfault.layout" first="part_time">
      {(doc, id, choose) => (
        <FindBench
          key={id}
          store={`zorvel.findfault.loose.${id}`}
          title={<span>What is broken?</span>}
          name={id.replaceAll("_", " ")}
          doc={doc}
          choose={choose}
        />
      )}
    </LooseLayout>
  );
}
