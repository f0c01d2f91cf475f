/** The kinds under which losses are looked at together, in the order in which they are shown. @public */
export const LOSS_KINDS = [
  'switch conduction',
  'body diodes',
  'switching',
  'gate drive',
  'inductor copper',
  'inductor core',
  'capacitors, filters and sense resistor',
  'input protection and preload',
  'controller',
] as const;
/** @public */
export type LossKind = (typeof LOSS_KINDS)[number];

const BY_ENDING: readonly (readonly [RegExp, LossKind])[] = [
  [/(Conduction|Leakage)$/, 'switch conduction'],
  [/BodyDiode$/, 'body diodes'],
  [/(TurnOn|TurnOff|OutputCharge|Recovery)$/, 'switching'],
  [/Gate$/, 'gate drive'],
  [/^inductor(Copper|Alternating)$/, 'inductor copper'],
  [/^inductorCore$/, 'inductor core'],
  [/^(fuse|reversePolarity|preload)$/, 'input protection and preload'],
  [/^controllerSupply$/, 'controller'],
];

/** The kind of a loss by its key in an operating point. */
export const lossKindOf = (key: string): LossKind =>
  BY_ENDING.find(([ending]) => ending.test(key))?.[1] ?? 'capacitors, filters and sense resistor';

/** Losses of an operating point by kind, W; every kind is there. @public */
export function lossesByKind(losses: Readonly<Record<string, number>>): Readonly<Record<LossKind, number>> {
  const sums = Object.fromEntries(LOSS_KINDS.map((kind) => [kind, 0])) as Record<LossKind, number>;
  for (const [key, watts] of Object.entries(losses)) if (key !== 'total') sums[lossKindOf(key)] += watts;
  return sums;
}
