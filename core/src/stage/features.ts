/** What a stage may need of its controller beyond its figures. @public */
export const FEATURES = [
  'full-duty',
  'spread-spectrum',
  'adjustable-frequency',
  'adjustable-soft-start',
  'adjustable-compensation',
  'power-good',
  'mode-select',
  'synchronisation',
  'tracking',
] as const;
/** @public */
export type Feature = (typeof FEATURES)[number];
