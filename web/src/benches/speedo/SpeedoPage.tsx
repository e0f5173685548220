import { Loader } from "@mantine/core";
import { Link, useParams } from "react-router";
import { useTitle } from "../../app/title";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { SpeedoBench } from "./SpeedoBench";

/** The speedometer of a unit, driven from its own driveline. */
export function UnitSpeedoPage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  useTitle("Speedometer", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  return (
    <SpeedoBench
      key={id}
      store={`zorvel.speedometer.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · speedometer</span>
        </>
      }
      here={<YouAreHere unit={unit} line={line} />}
      name={unit.name}
      unit={id}
      doc={line.document}
    />
  );
}

/** The same from an axle ratio and a tire, without an account. */
export function LooseSpeedoPage() {
  useTitle("Speedometer");
  return (
    <SpeedoBench
      store="zorvel.speedometer.loose"
      title="Speedometer, from an axle ratio and a tire"
      name="Speedometer"
    />
  );
}
