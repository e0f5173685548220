import { useKept } from "../app/local";
import { undoable } from "../app/undo";

/** What is typed at a bench: kept on the device, set in parts, started over with a way back. */
export type Form<F> = { form: F; set: (change: Partial<F>) => void; startOver: () => void };

/**
 * The form of a bench, kept on this device under a name; blank must be a constant. What a former version of the page didn't
 * have is as in blank.
 */
export function useForm<F extends object>(store: string, blank: F): Form<F> {
  const [kept, keep] = useKept<F>(store, blank);
  return {
    form: { ...blank, ...kept },
    set: (change) => keep((old) => ({ ...blank, ...old, ...change })),
    startOver: () => {
      keep(blank);
      undoable("Started over.", async () => keep(kept));
    },
  };
}
