import { Gear } from "../../../drawing/gear";
import { Mark } from "./Mark";
import { type MethodUI, note } from "./method";
import { places } from "./places";

const picture = (
  <>
    <Gear x={95} y={60} r={52} n={41} hub={20} />
    <text x={95} y={30} textAnchor="middle" className="stamped">
      47 9
    </text>
    <path d="M210 44l44 8v16l-44 8z" className="metal" />
    <path d="M254 56h40v8h-40z" className="metal" />
    <text x={219} y={65} className="stamped">
      47-9
    </text>
    {note(180, 22, "on the ring's edge …")}
    {note(180, 104, "… or on the back of the pinion")}
  </>
);

export const stamp: MethodUI = {
  name: "Stamp",
  readOff: true,
  fits: () => true,
  steps: (kind) => [
    {
      text: places[kind]?.open ?? "Open the housing and wire-brush the ring's edge and the back of the pinion.",
      caution: "Engine off, key out. Oil may be hot and is slippery; catch it. Wear eye protection.",
    },
    { text: "Type everything that is stamped: both counts, or a ratio without its point." },
  ],
  read: (d, r) => {
    if (!d.text.trim()) r.missing.text = "Enter what it says";
    return { text: d.text };
  },
  Fields: (p) => <Mark {...p} of="stamp" label="The stamp says" like="47 9 or 522" />,
  picture: () => picture,
};
