import type { Converter } from '../firstcut/discontinuousPlantForms.js';
import type { Stage } from '../stage/schema.js';
import type { OperatingPoint } from '../steady/operatingPoint.js';

/** Which of the canonical converters a stage works as at a point; undefined where none, as in the transition of four switches. */
export function converterOf({ topology }: Stage, { region }: Pick<OperatingPoint, 'region'>): Converter | undefined {
  switch (topology) {
    case 'buck':
    case 'boost':
      return topology;
    case 'inverting-buck-boost':
      return 'buck-boost';
    case 'four-switch-buck-boost':
      return region === 'buck' || region === 'boost' ? region : region === 'simultaneous' ? 'buck-boost' : undefined;
  }
}
