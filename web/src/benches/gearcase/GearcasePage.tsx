import { Loader } from "@mantine/core";
import { Link, useParams } from "react-router";
import { useTitle } from "../../app/title";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { GearcaseBench } from "./GearcaseBench";

/** Shims, backlash and inspection of a boat's own gearcase. */
export function UnitGearcasePage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  useTitle("Gearcase", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  const part = line.document.parts.find((p) => p.kind === "gearcase");
  return (
    <GearcaseBench
      store={`zorvel.gearcase.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · gearcase</span>
        </>
      }
      here={<YouAreHere unit={unit} line={line} part={part?.id} />}
      unit={id}
      teeth={part?.gearcase}
      line={line}
    />
  );
}

/** The same without a unit. */
export function LooseGearcasePage() {
  useTitle("Gearcase");
  return <GearcaseBench store="zorvel.gearcase.loose" title={<span>A gearcase on the bench</span>} />;
}
