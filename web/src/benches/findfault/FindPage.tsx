import { Loader, Select } from "@mantine/core";
import { Link, useParams } from "react-router";
import { useKept } from "../../app/local";
import { useTitle } from "../../app/title";
import { useLayouts } from "../../machine/useLayouts";
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
      unit={id}
      doc={line.document}
    />
  );
}

/** The same on a ready driveline. */
export function LooseFindPage() {
  useTitle("Find the fault");
  const layouts = useLayouts();
  const [id, setID] = useKept("zorvel.findfault.layout", "part_time");
  if (layouts.error) return <SignInFirst error={layouts.error} />;
  if (!layouts.data) return <Loader m="xl" />;
  const chosen = layouts.data.find((l) => l.id === id) ?? layouts.data[0];
  if (!chosen) return null;
  return (
    <FindBench
      key={chosen.id}
      store={`zorvel.findfault.loose.${chosen.id}`}
      title={<span>What is broken?</span>}
      doc={chosen.document}
      choose={
        <Select
          aria-label="Driveline"
          value={chosen.id}
          onChange={(v) => v && setID(v)}
          data={layouts.data.map((l) => ({ value: l.id, label: l.name }))}
        />
      }
    />
  );
}
