import { Alert, Button, TextInput } from "@mantine/core";
import { Gear } from "../../../drawing/gear";
import { memberWords } from "../../../format/words";
import classes from "../identify.module.css";
import { type FieldsProps, type MethodUI, note } from "./method";
import { places } from "./places";

const picture = (
  <>
    <Gear x={80} y={60} r={52} n={41} hub={18} marked />
    {note(150, 22, "start tooth: chalk it, call it zero")}
    <path d="M146 18H86" className="lead" />
    {[10, 20, 30, 40].map((n) => {
      const a = (n / 41) * 2 * Math.PI - Math.PI / 2;
      return (
        <g key={n}>
          <circle cx={80 + 44 * Math.cos(a)} cy={60 + 44 * Math.sin(a)} r={3.5} className="dot" />
          <text x={80 + 30 * Math.cos(a)} y={64 + 30 * Math.sin(a)} textAnchor="middle" className="small">
            {n}
          </text>
        </g>
      );
    })}
    <Gear x={210} y={74} r={26} n={10} hub={8} marked />
    {note(246, 70, "the pinion the same way")}
    {note(246, 90, "a dot at every tenth tooth")}
  </>
);

export const teeth: MethodUI = {
  name: "Count teeth",
  fits: () => true,
  steps: (kind) => [
    {
      text: "Open the housing. Chalk one tooth as the start and call it zero.",
      caution:
        places[kind]?.still ?? "Engine off, key out, wheels chocked. Fingers out of the mesh while anyone turns it.",
    },
    { text: "Count on from the start tooth until it comes round; put a dot at every tenth tooth." },
    { text: "Do the same on the other gear. Count gear teeth, not the splines on the shaft." },
  ],
  read: (d, r, members) => {
    const teeth: Record<string, number> = {};
    for (const m of members) if (d.teeth[m]?.trim()) teeth[m] = r.whole(`teeth/${m}`, d.teeth[m]);
    if (Object.keys(teeth).length === 0) r.missing.teeth = "Enter the teeth of at least one gear";
    return { teeth };
  },
  Fields: Members,
  picture: () => picture,
};

function Members({ draft, set, members, error, onCount }: FieldsProps) {
  return (
    <div className={classes.members}>
      {members.map((m) => (
        <div className={classes.withButton} key={m}>
          <TextInput
            label={memberWords[m] ?? m}
            inputMode="numeric"
            value={draft.teeth[m] ?? ""}
            onChange={(e) => set({ teeth: { ...draft.teeth, [m]: e.currentTarget.value } })}
            error={error(`teeth/${m}`)}
          />
          <Button variant="default" aria-label={`Count ${memberWords[m] ?? m}`} onClick={() => onCount(`teeth/${m}`)}>
            Count
          </Button>
        </div>
      ))}
      {error("/teeth") && <Alert color="red">{error("/teeth")}</Alert>}
    </div>
  );
}
