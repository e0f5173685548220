import { Loader } from "@mantine/core";
import { Link, useParams } from "react-router";
import { useTitle } from "../../app/title";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { RegearBench } from "./RegearBench";

/** Tires and gears of a unit, with its own driveline. */
export function UnitRegearPage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  useTitle("Tires and gears", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  return (
    <RegearBench
      store={`zorvel.regear.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · tires and gears</span>
        </>
      }
      here={<YouAreHere unit={unit} line={line} />}
      name={unit.name}
      unit={id}
      doc={line.document}
    />
  );
}

/** The same from plain figures, without an account. */
export function LooseRegearPage() {
  useTitle("Tires and gears");
  return (
    <RegearBench store="zorvel.regear.loose" title={<span>Tires and gears, from plain figures</span>} name="Estimate" />
  );
}
