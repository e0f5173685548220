import { Mark } from "./Mark";
import { type MethodUI, note } from "./method";
import { places } from "./places";

const picture = (
  <>
    <path d="M40 14h150v92H40z" className="metal" />
    <circle cx={60} cy={30} r={7} className="bore" />
    <circle cx={170} cy={30} r={7} className="bore" />
    <circle cx={60} cy={92} r={7} className="bore" />
    <circle cx={170} cy={92} r={7} className="bore" />
    <path d="M162 84l70 -6v26l-66 6z" className="paper" />
    <text x={196} y={97} className="stamped">
      4.10
    </text>
    {note(246, 40, "cover, seen from behind")}
    {note(246, 96, "tag under one cover bolt")}
  </>
);

export const tag: MethodUI = {
  name: "Tag",
  readOff: true,
  fits: () => true,
  steps: (kind) => [
    { text: places[kind]?.tag ?? "Look at the cover bolts and at the plate on the housing. Wipe the tag clean." },
    { text: "Type the ratio or the tooth counts as stamped." },
  ],
  read: (d, r) => {
    if (!d.text.trim()) r.missing.text = "Enter what it says";
    return { text: d.text };
  },
  Fields: (p) => <Mark {...p} of="tag" label="The tag says" like="4.10 or four-ten" />,
  picture: () => picture,
};
