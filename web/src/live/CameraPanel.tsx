import { Alert, Button, FileButton, NumberInput, Switch } from "@mantine/core";
import { useEffect, useRef, useState } from "react";
import type { LiveAnswer } from "../api/client";
import { useKept } from "../app/local";
import type { FieldsProps } from "../benches/identify/methods/method";
import { atAxle } from "../benches/identify/methods/method";
import { Boxes, type Laid } from "./Boxes";
import type { FilmTold } from "./film";
import classes from "./live.module.css";
import { type Other, OtherWheel } from "./OtherWheel";
import { Turned } from "./Turned";
import { useCamera } from "./useCamera";
import { useTone } from "./useTone";

const nothing: LiveAnswer = {
  counts: [],
  troubles: [],
  notes: [],
  seconds: 0,
  sentence: "Turn, with both discs in sight.",
};

const laidFirst = (axle: boolean): Laid[] => [
  { shaft: axle ? "left" : "output", x: 0.05, y: 0.15, w: 0.5, marks: 1 },
  { shaft: "shaft", x: 0.6, y: 0.3, w: 0.3, marks: 1 },
];

/** The camera on a stand counts chalk marks; pictures stay on this device. */
export function CameraPanel(p: FieldsProps) {
  const axle = atAxle(p.question.kind);
  const video = useRef<HTMLVideoElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const camera = useCamera(video, canvas);
  const [laid, setLaid] = useKept<Laid[]>(`zorvel.live.boxes.${axle ? "axle" : "part"}`, laidFirst(axle));
  const [other, setOther] = useState<Other>({ does: "with", seen: false });
  const { told, size } = camera;
  const reading = told?.reading;
  const give = p.set;
  useEffect(() => {
    if (told) give({ live: reading });
  }, [told, reading, give]);
  const tone = useTone(p.verdict?.live?.advice === "settled" && !p.blind);
  const start = () =>
    size &&
    camera.run(
      laid.map((l) => watchOf(l, size)),
      axle ? other : undefined,
    );
  return (
    <div className="stack">
      {!camera.source && <Pick camera={camera} />}
      {camera.trouble && <Alert color="orange">{camera.trouble}</Alert>}
      <div className={classes.film} hidden={!camera.source}>
        <video ref={video} muted playsInline hidden={camera.source?.kind === "pictures"} />
        <canvas ref={canvas} hidden={camera.source?.kind !== "pictures"} />
        {size && <Boxes size={size} laid={laid} discs={told?.discs ?? []} onLay={setLaid} fixed={camera.running} />}
      </div>
      {camera.source && (
        <>
          <p className="dim">Lay a box over each disc so that it touches the rim. Pictures stay on this device.</p>
          <div className="row wrap">
            <Button size="md" onClick={camera.running ? camera.halt : start}>
              {camera.running ? "Stop" : "Start counting"}
            </Button>
            <Switch
              label="Tone when settled"
              checked={!tone.muted}
              onChange={(e) => tone.setMuted(!e.currentTarget.checked)}
            />
          </div>
          <Marks laid={laid} onLay={setLaid} />
          {axle && <OtherWheel other={other} onChange={setOther} />}
        </>
      )}
      {told && <Seen {...p} told={told} axle={axle} />}
    </div>
  );
}

/** Where the pictures come from. */
function Pick({ camera }: { camera: ReturnType<typeof useCamera> }) {
  const [rate, setRate] = useState(30);
  return (
    <div className="row wrap">
      <Button size="md" onClick={camera.openCamera}>
        Open the camera
      </Button>
      <FileButton onChange={(f) => f && camera.openFile(f, rate)} accept="video/*,.mjpeg,.mjpg">
        {(props) => (
          <Button {...props} variant="default" size="md">
            Use a recorded film
          </Button>
        )}
      </FileButton>
      <NumberInput
        aria-label="Pictures a second, of a film of JPEG pictures"
        suffix=" pictures a second"
        min={1}
        max={1000}
        value={rate}
        onChange={(n) => typeof n === "number" && setRate(n)}
      />
    </div>
  );
}

/** What was seen so far: discs that need help, and the count. */
function Seen({ told, axle, draft, blind, verdict }: FieldsProps & { told: FilmTold; axle: boolean }) {
  return (
    <>
      <ul className={classes.notes}>
        {told.discs
          .filter((d) => d.state !== "followed" || d.hidden > 0)
          .map((d) => (
            <li key={d.shaft}>
              {d.shaft === "shaft" ? "Driveshaft" : "Wheel"}: {d.sentence}
            </li>
          ))}
      </ul>
      <Turned
        answer={told.live ?? nothing}
        atAxle={axle}
        verdict={draft.live && !blind ? verdict : undefined}
        blind={blind}
      />
    </>
  );
}

/** A box that was laid, in shares of the picture's width, as a disc to follow in its pixels. */
function watchOf(l: Laid, size: { width: number; height: number }) {
  const side = l.w * size.width;
  return { shaft: l.shaft, marks: l.marks, box: { x: l.x * size.width, y: l.y * size.height, w: side, h: side } };
}

function Marks({ laid, onLay }: { laid: Laid[]; onLay: (l: Laid[]) => void }) {
  return (
    <div className={classes.channels}>
      {laid.map((l, i) => (
        <NumberInput
          key={l.shaft}
          label={`Chalk marks, ${l.shaft === "shaft" ? "driveshaft" : "wheel"}`}
          min={1}
          max={12}
          allowDecimal={false}
          value={l.marks}
          onChange={(n) =>
            typeof n === "number" && n > 0 && onLay(laid.map((x, k) => (k === i ? { ...x, marks: n } : x)))
          }
        />
      ))}
    </div>
  );
}
