import type { Doc, Part } from "../api/client";

/** The output of a part, as the part behind it names it. */
export const portOf = (p: Part, port: string) => (port ? `${p.id}.${port}` : p.id);

/** The part that an output feeds. */
export const fedBy = (d: Doc, port: string): Part | undefined => d.parts.find((p) => p.from === port);
