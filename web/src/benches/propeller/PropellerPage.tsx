import { Loader } from "@mantine/core";
import { Link, useParams } from "react-router";
import { useTitle } from "../../app/title";
import { useTrace } from "../../machine/useTrace";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { PropellerBench } from "./PropellerBench";

const atRest = {};
const wanted = { gears: true };

/** Speed, slip and pitch of a boat, with its own ratio ahead. */
export function UnitPropellerPage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  const { trace } = useTrace(line?.document, atRest, wanted);
  useTitle("Propeller", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  const ahead = trace?.gears?.find((g) => !g.reverse && g.overall)?.overall;
  const prop = line.document.parts.find((p) => p.kind === "propeller");
  return (
    <PropellerBench
      store={`zorvel.propeller.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · propeller</span>
        </>
      }
      here={<YouAreHere unit={unit} line={line} part={prop?.id} />}
      unit={id}
      ratio={ahead ? `${Math.abs(ahead.num)}/${ahead.den}` : undefined}
      pitch={prop?.propeller?.pitch_in}
    />
  );
}

/** The same without a unit. */
export function LoosePropellerPage() {
  useTitle("Propeller");
  return <PropellerBench store="zorvel.propeller.loose" title={<span>Propeller, from plain figures</span>} />;
}
