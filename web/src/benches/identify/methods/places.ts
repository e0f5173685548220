import type { Kind } from "../../../api/client";

/** Where a tag or plate sits, what is opened to see gears, and what must not move meanwhile. */
export const places: Partial<Record<Kind, { tag: string; open: string; still: string }>> = {
  gearcase: {
    tag: "Look for a plate on the bracket or the case. Most give the model only: type the ratio if it is there.",
    open: "Open the gearcase and wire-brush the backs of the gears and the pinion's face.",
    still: "Key and lanyard out, propeller off. Fingers out of the mesh while anyone turns the driveshaft.",
  },
  gearbox: {
    tag: "Look at the plate on the case and wipe it clean. Most give the model only: type the ratio if it is there.",
    open: "Take the cover off and wire-brush the faces of the gears.",
    still: "Engine off, key out, both ends free. Fingers out of the mesh while anyone turns it.",
  },
  transfer_case: {
    tag: "Look at the rear face of the case for a round or square tag. Wipe it clean.",
    open: "Open the case and wire-brush the faces of the gears, or of the planetary's ring.",
    still: "Engine off, key out, wheels chocked. Fingers out of the mesh while anyone turns it.",
  },
};
