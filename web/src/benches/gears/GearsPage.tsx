import { Loader } from "@mantine/core";
import type { ReactNode } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Doc } from "../../api/client";
import { Band } from "../../app/Band";
import { useKept } from "../../app/local";
import { useTitle } from "../../app/title";
import { LooseLayout } from "../../machine/LooseLayout";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { packState } from "../driveline/model";
import { GearsTable } from "../driveline/Tables";
import { useUnit } from "../useUnit";

const asItStarts = {};

function Page({
  title,
  here,
  name,
  doc,
  trace,
}: {
  title: ReactNode;
  here?: ReactNode;
  name: string;
  doc: Doc;
  trace: string;
}) {
  const navigate = useNavigate();
  return (
    <>
      <Band>
        <h1>{title}</h1>
        {here}
      </Band>
      <main id="main" className="page">
        <GearsTable
          doc={doc}
          state={asItStarts}
          name={name}
          onTry={(select) => navigate(`${trace}${trace.includes("?") ? "&" : "?"}s=${packState({ select })}`)}
        />
      </main>
    </>
  );
}

/** Every gear in every range of a unit, by itself. */
export function UnitGearsPage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  useTitle("Gears and ranges", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  return (
    <Page
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · gears and ranges</span>
        </>
      }
      here={<YouAreHere unit={unit} line={line} />}
      name={unit.name}
      doc={line.document}
      trace={`/units/${id}/trace`}
    />
  );
}

/** The same of the driveline that lies on the trace bench of this device, or of a ready layout. */
export function LooseGearsPage() {
  useTitle("Gears and ranges");
  const [doc] = useKept<Doc | null>("zorvel.driveline.loose", null);
  if (doc) {
    return <Page title={doc.name ?? "Gears and ranges"} name={doc.name ?? "gears"} doc={doc} trace="/trace" />;
  }
  return (
    <LooseLayout store="zorvel.gears.layout" first="part_time">
      {(layout, id, choose) => (
        <Page
          title={<span>Gears and ranges</span>}
          here={choose}
          name={id.replaceAll("_", " ")}
          doc={layout}
          trace={`/trace?layout=${id}`}
        />
      )}
    </LooseLayout>
  );
}
