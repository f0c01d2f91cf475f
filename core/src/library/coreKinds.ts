/** Shapes of cores. @public */
export const CORE_SHAPES = ['toroid', 'e', 'low-profile-e', 'pot', 'drum', 'planar'] as const;
/** @public */
export type CoreShape = (typeof CORE_SHAPES)[number];

/** Materials of cores; what each does is in magnetics/materials. @public */
export const CORE_MATERIALS = ['ferrite', 'megahertz-ferrite', 'iron-powder', 'alloy-powder', 'nickel-powder'] as const;
/** @public */
export type MaterialKey = (typeof CORE_MATERIALS)[number];

/** @public */
export const SHAPE_WORDS: Readonly<Record<CoreShape, string>> = {
  toroid: 'ring',
  e: 'E pair',
  'low-profile-e': 'low E pair',
  pot: 'pot',
  drum: 'drum',
  planar: 'planar E and plate',
};
