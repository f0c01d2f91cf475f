import { GROUND } from '../circuit/elements.js';
import { buckFigures } from './buckFigures.js';
import { COMMANDED, type Topology } from './topology.js';

/**
 * The buck stage.
 *
 *     in ──highSide──┬── sw ──inductor── out ──┬── load
 *                    │                         │
 *                 lowSide               outputCapacitors
 *                    │                         │
 *     0 ─────────────┴─────────────────────────┴──
 */
export const buck: Topology = {
  words: 'buck',
  legs: [{ main: 'highSide', rectifier: 'lowSide' }],
  blocks: { highSide: 'input', lowSide: 'input' },
  sign: 1,
  reach: 'below',
  currents: 'Input current pulsed, output current smooth.',
  worksAs: () => 'buck',
  phase: (k) => {
    const sw = `sw${String(k + 1)}`;
    return { nodes: [sw], inductor: [sw, 'out'], cells: [{ main: ['in', sw], rectifier: [GROUND, sw] }] };
  },
  // D = Vout / Vin
  operation: ({ inputVoltage, outputVoltage }) => ({ drives: [COMMANDED], idealDuty: outputVoltage / inputVoltage }),
  sizedAs: () => ({ converter: 'buck', drives: [COMMANDED] }),
  figures: buckFigures,
};
