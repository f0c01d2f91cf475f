import { GROUND } from '../circuit/elements.js';
import { fourSwitchFigures } from './fourSwitchFigures.js';
import { COMMANDED, type Conversion, type Converter, type Drive, type Region, type Topology } from './topology.js';

/**
 * Duty limit of a leg that switches alone: beyond it (or below one minus it) both legs switch. Common practice: a bootstrap
 * needs its refresh, and a leg its shortest pulse. Nearer to one: a narrower transition, shorter pulses.
 */
const LEG_DUTY_LIMIT = 0.9;

/** Which legs switch, by the ratio of output to input voltage of the loss-free stage. */
function regionAt({ inputVoltage, outputVoltage, legsTogether }: Conversion): Region {
  if (legsTogether) return 'simultaneous';
  const ratio = outputVoltage / inputVoltage;
  if (ratio <= LEG_DUTY_LIMIT) return 'buck';
  return ratio >= 1 / LEG_DUTY_LIMIT ? 'boost' : 'transition';
}

/** Input leg and output leg, in each region. */
const DRIVES: Readonly<Record<Region, readonly Drive[]>> = {
  buck: [COMMANDED, { resting: 'off' }],
  boost: [{ resting: 'on' }, COMMANDED],
  transition: [{ until: LEG_DUTY_LIMIT }, COMMANDED],
  simultaneous: [COMMANDED, COMMANDED],
};

/** Ideal duty ratio of the regulated leg, from the ratio of output to input voltage. */
const DUTY: Readonly<Record<Region, (ratio: number) => number>> = {
  buck: (ratio) => ratio,
  boost: (ratio) => 1 - 1 / ratio,
  transition: (ratio) => 1 - LEG_DUTY_LIMIT / ratio,
  simultaneous: (ratio) => ratio / (1 + ratio),
};

const CONVERTERS: Readonly<Record<Region, Converter | undefined>> = {
  buck: 'buck',
  boost: 'boost',
  simultaneous: 'buck-boost',
  transition: undefined,
};

/**
 * The four-switch buck-boost stage. In the buck region the input leg switches and the output high side stays on, in the
 * boost region the output leg switches and the input high side stays on; between them the input leg runs at its limit and
 * the output leg regulates. With the legs together both follow one duty ratio.
 *
 *     in ──highSide──┬── sw ──inductor── swOut ──┬──outputHighSide── out ──┬── load
 *                    │                           │                         │
 *                 lowSide                  outputLowSide           outputCapacitors
 *                    │                           │                         │
 *     0 ─────────────┴───────────────────────────┴─────────────────────────┴──
 */
export const fourSwitchBuckBoost: Topology = {
  words: 'four-switch',
  legs: [
    { main: 'highSide', rectifier: 'lowSide' },
    { main: 'outputLowSide', rectifier: 'outputHighSide' },
  ],
  blocks: { highSide: 'input', lowSide: 'input', outputHighSide: 'output', outputLowSide: 'output' },
  sign: 1,
  reach: 'any',
  currents:
    'Input current pulsed in the buck region, output current pulsed in the boost region, both in between; two switches are always in the path.',
  worksAs: (region) => region && CONVERTERS[region],
  phase: (k) => {
    const sw = `sw${String(k + 1)}`;
    const swOut = `swOut${String(k + 1)}`;
    return {
      nodes: [sw, swOut],
      inductor: [sw, swOut],
      cells: [
        { main: ['in', sw], rectifier: [GROUND, sw] },
        { main: [swOut, GROUND], rectifier: [swOut, 'out'] },
      ],
    };
  },
  operation: (conversion) => {
    const region = regionAt(conversion);
    const idealDuty = DUTY[region](conversion.outputVoltage / conversion.inputVoltage);
    const drives = DRIVES[region];
    return { drives, idealDuty, region, ...(region === 'transition' && { fixedLegDuty: LEG_DUTY_LIMIT }) };
  },
  // The transition is narrow and takes parts of either side.
  sizedAs: (conversion) => {
    const { inputVoltage, outputVoltage, legsTogether } = conversion;
    const region = legsTogether ? 'simultaneous' : outputVoltage < inputVoltage ? 'buck' : 'boost';
    return { converter: CONVERTERS[region] ?? 'buck-boost', drives: DRIVES[region] };
  },
  borders: (outputVoltage) => ({
    boostBelow: outputVoltage * LEG_DUTY_LIMIT,
    buckAbove: outputVoltage / LEG_DUTY_LIMIT,
  }),
  figures: (point) => fourSwitchFigures(point, LEG_DUTY_LIMIT),
};
