import type { QueryClient } from "@tanstack/react-query";

/** What is asked of the server and weighs the shop's lists. */
export const keys = {
  identify: "identify",
  regear: "regear",
  speedometer: "speedometer",
  unit: "unit",
  units: "units",
  stage: "stage",
  driveline: "driveline",
} as const;

/** Asks anew whatever was computed from the shop's lists. */
export function shopChanged(client: QueryClient) {
  for (const key of Object.values(keys)) void client.invalidateQueries({ queryKey: [key] });
}
