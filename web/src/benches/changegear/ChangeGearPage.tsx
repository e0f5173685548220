import { Loader } from "@mantine/core";
import { Link, useParams } from "react-router";
import { useTitle } from "../../app/title";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { ChangeGearBench } from "./ChangeGearBench";

/** Change gears of a unit, on its own driveline. */
export function UnitChangeGearPage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  useTitle("Change gears", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  const part = line.document.parts.find((p) => p.axle?.change)?.id;
  return (
    <ChangeGearBench
      store={`zorvel.changegear.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · change gears</span>
        </>
      }
      here={<YouAreHere unit={unit} line={line} part={part} />}
      name={unit.name}
      unit={id}
      doc={line.document}
      count={unit.stages.find((s) => s.present && s.ratio === "change")?.id}
    />
  );
}

/** The same from plain figures, without an account. */
export function LooseChangeGearPage() {
  useTitle("Change gears");
  return (
    <ChangeGearBench
      store="zorvel.changegear.loose"
      title={<span>Change gears, from plain figures</span>}
      name="Change gears"
    />
  );
}
