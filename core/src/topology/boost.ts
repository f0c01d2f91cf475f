import { GROUND } from '../circuit/elements.js';
import { onTimeFigures } from './onTimeFigures.js';
import { COMMANDED, type Topology } from './topology.js';

/**
 * The boost stage.
 *
 *     in ──inductor── sw ──┬──highSide── out ──┬── load
 *                          │                   │
 *                       lowSide         outputCapacitors
 *                          │                   │
 *     0 ───────────────────┴───────────────────┴──
 */
export const boost: Topology = {
  words: 'boost',
  legs: [{ main: 'lowSide', rectifier: 'highSide' }],
  blocks: { highSide: 'output', lowSide: 'output' },
  sign: 1,
  reach: 'above',
  currents: 'Input current smooth, output current pulsed.',
  worksAs: () => 'boost',
  phase: (k) => {
    const sw = `sw${String(k + 1)}`;
    return { nodes: [sw], inductor: ['in', sw], cells: [{ main: [sw, GROUND], rectifier: [sw, 'out'] }] };
  },
  // D = 1 − Vin / Vout
  operation: ({ inputVoltage, outputVoltage }) => ({
    drives: [COMMANDED],
    idealDuty: 1 - inputVoltage / outputVoltage,
  }),
  sizedAs: () => ({ converter: 'boost', drives: [COMMANDED] }),
  figures: (point) => onTimeFigures(point, 'boost'),
};
