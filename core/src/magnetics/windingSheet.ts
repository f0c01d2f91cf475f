import { formatQuantity } from '../quantity/engineering.js';
import type { Sheet } from '../quantity/sheet.js';
import type { ChokeDemand, WorkedChoke } from './figures.js';
import { FRINGING_WORDS } from './fringing.js';
import { chokeCautions, chokeFaults } from './judgeChoke.js';
import { bodyOf, gapWords, type WoundChoke } from './woundChoke.js';
import { conductorWords, laidDiameter } from './wires.js';
import { SHAPE_WORDS } from '../library/coreKinds.js';

const mm = (value: number, digits = 3): string => `${(1e3 * value).toPrecision(digits)} mm`;
/** Hz, at which a bridge reads the inductance of a usual choke. Common practice. */
const BRIDGE = 100e3;
/** What is rung with: a capacitance with which it rings at about 50 kHz, from those at hand. */
const RINGS_AT = 50e3;

/**
 * The sheet that a choke is wound and checked by.
 *
 * @param of the name of the stage.
 * @public
 */
export function windingSheet(choke: WoundChoke, worked: WorkedChoke, demand: ChokeDemand, of: string): Sheet {
  const { core, beside, turns, conductor } = choke;
  const { laid, worst, inductance, resistance, atLimit } = worked;
  const [length, width, height] = bodyOf(choke, laid);
  const [none, full, limit] = inductance;
  const round = conductor.kind === 'wire' || conductor.kind === 'litz';
  const lead = 2 * 0.04;
  const capacitance = 1 / ((2 * Math.PI * RINGS_AT) ** 2 * none);
  const faults = chokeFaults(choke, worked, demand);
  const knee = worked.table.find(([, l]) => l < 0.7 * none)?.[0];
  return {
    title: `Choke for ${of}`,
    sections: [
      {
        heading: 'Core',
        lines: [
          [
            'core',
            `${core.name}, ${SHAPE_WORDS[core.shape]} of ${core.material.words}${beside ? `, with ${beside.name} beside it` : ''}`,
          ],
          ['area, path', `${(1e6 * core.area).toPrecision(3)} mm², ${mm(core.pathLength)}`],
          ['gap', gapWords(choke)],
        ],
      },
      {
        heading: 'Winding',
        lines: [
          ['turns', String(turns)],
          ['conductor', conductorWords(conductor)],
          ...(round ? [['over all', mm(laidDiameter(conductor))] as const] : []),
          ['layers', `${String(laid.layers)}, ${String(laid.side)} side by side at most, ${mm(laid.build)} high`],
          [
            'length',
            `${laid.wireLength.toPrecision(3)} m${conductor.kind === 'wire' && conductor.strands > 1 ? ' of each wire' : ''}, and ${mm(lead, 2)} for both ends`,
          ],
          ['mass of copper', `${(1e3 * laid.mass).toPrecision(3)} g`],
          ['window filled', `${(100 * laid.fill).toFixed(0)} % with copper`],
          ['size over all', `${mm(length)} x ${mm(width)} x ${mm(height)}`],
          core.shape === 'toroid'
            ? 'Wind evenly round the ring, a sixth of it left free between both ends.'
            : 'Keep the first and the last turn at the same side of the gap, the winding two gaps away from it.',
        ],
      },
      {
        heading: 'Expected',
        lines: [
          [
            'inductance',
            `${formatQuantity(none, 'H', 3)} without current, ${formatQuantity(full, 'H', 3)} at ${formatQuantity(demand.full, 'A', 3)}, ${formatQuantity(limit, 'H', 3)} at ${formatQuantity(demand.limit, 'A', 3)}`,
          ],
          [
            'knee (30 % gone)',
            knee === undefined
              ? `beyond ${formatQuantity(worked.table.at(-1)?.[0] ?? 0, 'A', 3)}`
              : `about ${formatQuantity(knee, 'A', 3)}`,
          ],
          [
            'flux density',
            `${atLimit.density.toFixed(3)} T at the limit, of ${atLimit.saturation.toFixed(2)} T; ${worst.densitySwing.toFixed(3)} T peak to peak`,
          ],
          ['resistance', `${formatQuantity(resistance, 'ohm', 3)} at 25 °C`],
          [
            'loss',
            `${formatQuantity(worst.copper, 'W', 3)} copper, ${formatQuantity(worst.alternating, 'W', 2)} eddy currents, ${formatQuantity(worst.core, 'W', 3)} core, at ${formatQuantity(worst.inputVoltage, 'V', 3)} and ${formatQuantity(worst.outputCurrent, 'A', 3)}`,
          ],
          ['temperature', `${worst.temperature.toFixed(0)} °C in still air of ${demand.ambient.toFixed(0)} °C`],
        ],
      },
      {
        heading: 'Check on the bench',
        lines: [
          `Inductance with a bridge at ${formatQuantity(Math.min(BRIDGE, 100e3), 'Hz', 2)} and little voltage: ${formatQuantity(none, 'H', 3)} within a tenth. Too much: the gap is too small; too little: too wide, or a turn is missing.`,
          `Or let it ring with ${formatQuantity(capacitance, 'F', 2)}: about ${formatQuantity(RINGS_AT, 'Hz', 2)}.`,
          `Resistance with four wires: ${formatQuantity(resistance, 'ohm', 3)} within a tenth.`,
          `Knee with a ramp: ${formatQuantity((none * demand.limit) / 50e-6, 'V', 2)} for 50 µs brings it to ${formatQuantity(demand.limit, 'A', 3)}, from charged capacitors and by a single pulse: the current must not bend upward before. Stand clear: the energy goes somewhere.`,
          'Put what was measured under “Measured”: it is fitted, and goes into the library.',
        ],
      },
      ...(faults.length + chokeCautions(choke, worked).length > 0
        ? [{ heading: 'To be minded', lines: [...faults, ...chokeCautions(choke, worked)] }]
        : []),
      {
        heading: 'How it was worked',
        lines: [
          `Core loss by the improved generalised Steinmetz equation on the stage’s own waveform with its steady flux; winding by Dowell over 15 harmonics; gap by ${FRINGING_WORDS[choke.fringing]}; temperature by (P/S)^0.833, mW and cm², in still air (common practice).`,
          ...(demand.unsolved > 0
            ? [
                `${String(demand.unsolved)} corners of the stage have no operating point: what the choke bears there is left out.`,
              ]
            : []),
          ...demand.filled.map((what) => `Taken as usual, as the stage does not state it: ${what}.`),
        ],
      },
    ],
  };
}
