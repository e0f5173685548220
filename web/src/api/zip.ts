import { api, take } from "./client";

const raw = { headers: { "Content-Type": "application/zip" }, bodySerializer: (b: unknown) => b as Blob };

/** Takes a unit with its photos in. */
export const importUnitZip = (file: Blob) =>
  take(api.POST("/units/import-zip", { ...raw, body: file as unknown as string }));

/** Looks at what a shop exported, or takes it in. */
export const importShop = (file: Blob, keep: boolean) =>
  take(api.POST("/shop/import", { ...raw, params: { query: { keep } }, body: file as unknown as string }));
