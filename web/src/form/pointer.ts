/**
 * Every place in a question, as a refusal names it without the slash in front: "goal/kmh", "trials/0/backlash". As far down
 * as questions are entered by hand.
 */
export type Pointer<Q, Depth extends 0[] = [0, 0, 0]> = Depth extends [0, ...infer Rest extends 0[]]
  ? Q extends readonly (infer U)[]
    ? `${number}` | `${number}/${Pointer<NonNullable<U>, Rest>}`
    : Q extends object
      ? { [K in keyof Q & string]: K | `${K}/${Pointer<NonNullable<Q[K]>, Rest>}` }[keyof Q & string]
      : never
  : never;
