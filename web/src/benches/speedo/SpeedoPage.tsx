import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, take } from "../../api/client";
import { SignInFirst } from "../../people/SignInFirst";
import { SpeedoBench } from "./SpeedoBench";

/** The speedometer of a unit, driven from its own driveline. */
export function UnitSpeedoPage() {
  const id = Number(useParams().id);
  const path = { params: { path: { id } } };
  const unit = useQuery({ queryKey: ["unit", id], queryFn: () => take(api.GET("/units/{id}", path)) });
  const line = useQuery({ queryKey: ["driveline", id], queryFn: () => take(api.GET("/units/{id}/driveline", path)) });
  const error = unit.error ?? line.error;
  if (error) return <SignInFirst error={error} />;
  if (!unit.data || !line.data) return <Loader m="xl" />;
  return (
    <SpeedoBench
      key={id}
      store={`zorvel.speedometer.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.data.name}</Link>
          <span> · speedometer</span>
        </>
      }
      name={unit.data.name}
      unit={id}
      doc={line.data.document}
    />
  );
}

/** The same from an axle ratio and a tire, without an account. */
export function LooseSpeedoPage() {
  return (
    <SpeedoBench
      store="zorvel.speedometer.loose"
      title="Speedometer, from an axle ratio and a tire"
      name="Speedometer"
    />
  );
}
