import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, take } from "../../api/client";
import { SignInFirst } from "../../people/SignInFirst";
import { RegearBench } from "./RegearBench";

/** Tires and gears of a unit, with its own driveline. */
export function UnitRegearPage() {
  const id = Number(useParams().id);
  const path = { params: { path: { id } } };
  const unit = useQuery({ queryKey: ["unit", id], queryFn: () => take(api.GET("/units/{id}", path)) });
  const line = useQuery({ queryKey: ["driveline", id], queryFn: () => take(api.GET("/units/{id}/driveline", path)) });
  const error = unit.error ?? line.error;
  if (error) return <SignInFirst error={error} />;
  if (!unit.data || !line.data) return <Loader m="xl" />;
  if (!line.data.document)
    return (
      <main id="main" className="narrow">
        <h1>No driveline yet</h1>
        <p>
          Gears are chosen for a driveline: which gearbox, which ranges, which axles.{" "}
          <Link to={`/units/${id}/trace`}>Lay it out first</Link>, or work with{" "}
          <Link to="/regear">a few plain figures</Link>.
        </p>
      </main>
    );
  return (
    <RegearBench
      store={`zorvel.regear.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.data.name}</Link>
          <span> · tires and gears</span>
        </>
      }
      name={unit.data.name}
      unit={id}
      doc={line.data.document}
    />
  );
}

/** The same from plain figures, without an account. */
export function LooseRegearPage() {
  return (
    <RegearBench store="zorvel.regear.loose" title={<span>Tires and gears, from plain figures</span>} name="Estimate" />
  );
}
