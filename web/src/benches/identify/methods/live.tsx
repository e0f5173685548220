import { lazy, Suspense } from "react";
import { Link } from "react-router";
import { api } from "../../../api/client";
import { atAxle, type FieldsProps, type MethodUI, note } from "./method";

const LiveFields = lazy(() => import("../../../live/LiveFields").then((m) => ({ default: m.LiveFields })));

const picture = (
  <>
    <path d="M60 60H340" className="shaft thin" />
    <circle cx={60} cy={60} r={36} className="tire" />
    <circle cx={340} cy={60} r={36} className="tire" />
    <circle cx={200} cy={60} r={20} className="metal" />
    <path d="M60 60V28M340 60V28M200 60V44" className="chalk" />
    {note(200, 108, "a mark or a phone on each shaft", "middle")}
  </>
);

export const live: MethodUI = {
  name: "Count live",
  fits: () => true,
  steps: (kind) => [
    atAxle(kind)
      ? {
          text: "Lift it, wheels free, in neutral. Put chalk marks or phones on the flange and the wheels.",
          caution: "Chock the wheels that stay down. Nothing loose near a turning shaft.",
        }
      : {
          text: "Clamp it, and put a mark or a phone on the input and on the output.",
          caution: "Keep sleeves and straps clear of a turning shaft.",
        },
    { text: "Hold still for a moment, then turn evenly. The range narrows as you turn." },
    { text: "Stop when it says settled. Hold still again before you save." },
  ],
  read: (d, r) => {
    if (!d.live) r.missing.live = "Count first: pick phones, shaft sensors or a file.";
    return { live: d.live };
  },
  underWay: (d) => Boolean(d.live || d.liveSession),
  kept: (reading) => {
    const id = Number(reading.live?.session);
    // The reading stands by itself; keeping its marks for later is worth a try.
    if (id) void api.POST("/live/{id}/end", { params: { path: { id } }, body: { kept: true } });
  },
  evidence: (r) => r.live?.session && <Link to={`/live/${r.live.session}`}>Look at this count again</Link>,
  Fields: (p: FieldsProps) => (
    <Suspense fallback={<p role="status">Loading…</p>}>
      <LiveFields {...p} />
    </Suspense>
  ),
  picture: () => picture,
};
