import type { components } from "../api/schema";
import { when } from "./numbers";

/** Who entered something and when; what came with a document says so. */
export function Signed({ by, at, takenIn }: { by?: string; at: string; takenIn?: components["schemas"]["TakenIn"] }) {
  return (
    <>
      {by && `${by}, `}
      {when(at)}
      {takenIn && ` (imported by ${takenIn.by}, ${when(takenIn.at)})`}
    </>
  );
}
