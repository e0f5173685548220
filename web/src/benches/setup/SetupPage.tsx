import { Loader } from "@mantine/core";
import { Link, useParams, useSearchParams } from "react-router";
import { useTitle } from "../../app/title";
import { partName } from "../../machine/document";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { SetupBench } from "./SetupBench";

/** The set-up of one axle of a unit. */
export function UnitSetupPage() {
  const id = Number(useParams().id);
  const [params, setParams] = useSearchParams();
  const { unit, line, error } = useUnit(id);
  useTitle("Set up", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  const axles = line.document.parts.filter((p) => p.kind === "axle");
  const part = axles.find((p) => p.id === params.get("part")) ?? axles[0];
  return (
    <SetupBench
      key={part?.id}
      store={`zorvel.setup.${id}.${part?.id ?? ""}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · set up the {part ? partName(part).toLowerCase() : "axle"}</span>
          {axles.length > 1 && " · "}
          {axles.length > 1 &&
            axles
              .filter((p) => p !== part)
              .map((p) => (
                <button key={p.id} type="button" className="linklike" onClick={() => setParams({ part: p.id })}>
                  {partName(p)} instead
                </button>
              ))}
        </>
      }
      here={<YouAreHere unit={unit} line={line} part={part?.id} />}
      unit={id}
      part={part}
    />
  );
}

/** The same without a unit. */
export function LooseSetupPage() {
  useTitle("Set up");
  return <SetupBench store="zorvel.setup.loose" title={<span>Set up a ring and pinion</span>} />;
}
