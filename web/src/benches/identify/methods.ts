import type { Kind, Method } from "../../api/client";

export type Step = { text: string; caution?: string };

const stands =
  "Chock the wheels that stay down. Lift at the rated points and set stands: never trust a jack alone. Neutral with the brake off rolls.";

const axle = (kind: Kind) => kind === "ring_and_pinion" || kind === "two_stage";

/** The methods that fit a kind of stage, in the order people try them. */
export function methodsFor(kind: Kind): Method[] {
  return axle(kind) ? ["tag", "stamp", "teeth", "turns", "bench", "road"] : ["tag", "stamp", "teeth", "bench"];
}

/** Where a tag or plate sits, what is opened to see gears, and what must not move meanwhile. */
const places: Partial<Record<Kind, { tag: string; open: string; still: string }>> = {
  gearcase: {
    tag: "Look for a plate on the bracket or the case. Most give the model only: type the ratio if it stands there.",
    open: "Open the gearcase and wire-brush the backs of the gears and the pinion's face.",
    still: "Key and lanyard out, propeller off. Fingers out of the mesh while anyone turns the drive shaft.",
  },
  gearbox: {
    tag: "Look at the plate on the case and wipe it clean. Most give the model only: type the ratio if it stands there.",
    open: "Take the cover off and wire-brush the faces of the gears.",
    still: "Engine off, key out, both ends free. Fingers out of the mesh while anyone turns it.",
  },
  transfer_case: {
    tag: "Look at the rear face of the case for a round or square tag. Wipe it clean.",
    open: "Open the case and wire-brush the faces of the gears, or of the planetary's ring.",
    still: "Engine off, key out, wheels chocked. Fingers out of the mesh while anyone turns it.",
  },
};

/** How each is turned by hand: what is marked, what is turned, what is dangerous. */
const turning: Partial<Record<Kind, Step[]>> = {
  gearcase: [
    {
      text: "Propeller off, forward gear engaged, unit clamped.",
      caution:
        "Engine off, key and lanyard out, propeller removed before anything turns. Turn only the way the engine turns: the other way breaks the water-pump impeller.",
    },
    { text: "Mark the drive shaft and the propeller shaft." },
    { text: "Turn the drive shaft until the propeller shaft has made its turns; count, and see what is left." },
  ],
  gearbox: [
    {
      text: "Put it in the gear that is asked. Mark the input shaft and the output flange in line with the case.",
      caution:
        "Under the vehicle: engine off, key out, wheels chocked, drive shaft off the flange. On the bench: jack and cradle.",
    },
    { text: "Take up the play. Turn the input until the output mark has made its turns." },
    { text: "Count the input's whole turns and see what is left. Overdrive: the input makes less than one." },
  ],
  transfer_case: [
    {
      text: "Set the range that is asked, center locked or front engaged. Mark the input and the rear output.",
      caution:
        "Under the vehicle: engine off, key out, wheels chocked, both drive shafts off. On the bench: jack and cradle.",
    },
    { text: "Take up the play. Turn the input until the rear output's mark has made its turns." },
    { text: "Count the input's whole turns and see what is left." },
  ],
  hub: [
    {
      text: "Lift the wheel, brake off. Mark the half shaft and the hub.",
      caution: "Chock the wheels that stay down. Lift at the rated points and set stands: never trust a jack alone.",
    },
    { text: "Turn the hub until its mark has made its turns; count the half shaft's turns and see what is left." },
  ],
};

export function stepsFor(method: Method, kind: Kind, blind: boolean): Step[] {
  const guess = blind ? [{ text: "Earlier readings stay hidden until you keep this one. Read what is there." }] : [];
  const here = places[kind];
  switch (method) {
    case "tag":
      return [
        { text: here?.tag ?? "Look at the cover bolts and at the plate on the housing. Wipe the tag clean." },
        { text: "Type the ratio or the tooth counts as they stand there." },
        ...guess,
      ];
    case "stamp":
      return [
        {
          text: here?.open ?? "Open the housing and wire-brush the ring's edge and the back of the pinion.",
          caution: "Engine off, key out. Oil may be hot and is slippery; catch it. Wear eye protection.",
        },
        { text: "Type everything that is stamped: both counts, or a ratio without its point." },
        ...guess,
      ];
    case "teeth":
      return [
        {
          text: "Open the housing. Chalk one tooth as the start and call it zero.",
          caution: here?.still ?? "Engine off, key out, wheels chocked. Fingers out of the mesh while anyone turns it.",
        },
        { text: "Count on from the start tooth until it comes round; put a dot at every tenth tooth." },
        { text: "Do the same on the other gear. Count gear teeth, not the splines on the shaft." },
        ...guess,
      ];
    case "turns":
      return [
        { text: "Lift both driven wheels. Gearbox in neutral, parking brake off.", caution: stands },
        { text: "Take up the play in the turning direction. Chalk tire and fender, flange and housing." },
        { text: "Turn the wheels back to their mark; count whole turns of the flange and see what is left." },
        { text: "Watch or hold the other wheel: one held and one turned gives half the ratio." },
        ...guess,
      ];
    case "bench":
      if (turning[kind]) return [...turning[kind], ...guess];
      return [
        {
          text: "Clamp the unit. Mark input and output in line with the housing.",
          caution: "Heavy parts: jack and cradle. Detent balls and springs fly.",
        },
        { text: "Through a differential, join both outputs or hold one: say which." },
        { text: "Take up the play, turn until the output mark is back, count the input's turns." },
        ...guess,
      ];
    default:
      return [
        {
          text: "Drive at a steady speed in a known gear, converter locked, on the level.",
          caution: "Let a passenger read the figures. Keep to the limit and the local rules.",
        },
        { text: "Note engine speed and true speed (a satellite receiver, not the vehicle's needle)." },
        { text: "Measure the driven tire's rolling circumference: chalk tire and floor, roll one turn." },
        ...guess,
      ];
  }
}
