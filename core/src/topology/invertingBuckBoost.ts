import { GROUND } from '../circuit/elements.js';
import { onTimeFigures } from './onTimeFigures.js';
import { COMMANDED, type Topology } from './topology.js';

/**
 * The inverting buck-boost stage: the output is negative, and the inductor carries input plus output current.
 *
 *     in ──highSide──┬── sw ──lowSide── out ──┬── load
 *                    │      (towards sw)      │
 *                 inductor            outputCapacitors
 *                    │                        │
 *     0 ─────────────┴────────────────────────┴──
 */
export const invertingBuckBoost: Topology = {
  words: 'inverting',
  legs: [{ main: 'highSide', rectifier: 'lowSide' }],
  blocks: { highSide: 'both', lowSide: 'both' },
  sign: -1,
  reach: 'any',
  currents:
    'Input and output current both pulsed; the inductor carries the sum of input and output current and each switch sees the sum of input and output voltage.',
  worksAs: () => 'buck-boost',
  phase: (k) => {
    const sw = `sw${String(k + 1)}`;
    return { nodes: [sw], inductor: [sw, GROUND], cells: [{ main: ['in', sw], rectifier: ['out', sw] }] };
  },
  // D = |Vout| / (Vin + |Vout|)
  operation: ({ inputVoltage, outputVoltage }) => ({
    drives: [COMMANDED],
    idealDuty: -outputVoltage / (inputVoltage - outputVoltage),
  }),
  sizedAs: () => ({ converter: 'buck-boost', drives: [COMMANDED] }),
  figures: (point) => onTimeFigures(point, 'buck-boost'),
};
