import type { EvaluatedStage } from '../corners/evaluate.js';
import { elementWords } from '../powerstage/elementWords.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { Sheet } from '../quantity/sheet.js';
import { SWITCH_WORDS } from '../stage/completeStage.js';
import { cautionsOf, storedIn } from './cautions.js';

/** A fuse over the highest current that it is to carry. Common practice. */
const FUSE = 1.5;

/** What is done before power is applied, whatever the stage. Common practice. */
const BEFORE = [
  'Read the cautions to someone beside you, and do not work alone on what can hurt.',
  'Begin with a supply that limits its current, at the lowest input voltage and without load; eye protection on.',
  'Measure that what was charged is discharged before you touch it, with a meter that was tried just before.',
  'Know where the supply is cut off, and that it is cut off within reach.',
] as const;

/** What holds above all of it. */
const LAW =
  'This sheet is worked from the data of the stage alone. Local codes, the standard of the product and the judgement of those who are licensed come first.';

/**
 * All that can hurt someone, or the stage, on one sheet, with the numbers that make it true.
 *
 * @public
 */
export function careSheet(worked: EvaluatedStage): Sheet {
  const { complete, corners, evaluation } = worked;
  const { stage } = complete;
  const { targets, parts, control } = stage;
  const points = corners.flatMap(({ result }) => (result.kind === 'solved' ? [result] : []));
  const most = (of: (point: (typeof points)[number]['point']) => number): number =>
    Math.max(...points.map(({ point }) => of(point)));
  const cautions = cautionsOf(stage, worked);
  const places = [...new Set(points.flatMap(({ heat }) => heat.devices.map(({ place }) => place)))];
  const vIn = targets.inputVoltage.max;
  const input = most(({ inputCurrent }) => inputCurrent);
  const source = parts.source?.resistance;
  const { fuse } = parts;
  const fused =
    fuse === undefined
      ? `a fuse of about ${formatQuantity(FUSE * input, 'A', 2)}`
      : `the stage has a fuse${fuse.ratedCurrent === undefined ? ', its rating not stated,' : ` of ${formatQuantity(fuse.ratedCurrent, 'A', 2)}`}`;
  return {
    title: `Care: ${stage.name}`,
    sections: [
      {
        heading: 'Cautions',
        lines:
          cautions.length === 0
            ? ['None follows from the values of this stage.']
            : cautions.map(({ sentence }) => sentence),
      },
      {
        heading: 'What stays charged',
        lines: storedIn(complete).map(
          ({ words, voltage, capacitance, energy }) =>
            [
              words,
              `${formatQuantity(capacitance, 'F', 3)} at ${formatQuantity(voltage, 'V', 3)}: ${formatQuantity(energy, 'J', 2)}`,
            ] as const,
        ),
      },
      {
        heading: 'What gets hot',
        lines:
          places.length === 0
            ? ['No part states how it gives off heat: measure before you touch.']
            : places.map((place) => {
                const hottest = points
                  .flatMap(({ heat }) => heat.devices.filter((one) => one.place === place))
                  .reduce(
                    (high, one) => Math.max(high, one.kind === 'settled' ? one.temperature : Infinity),
                    -Infinity,
                  );
                return [
                  SWITCH_WORDS[place],
                  hottest === Infinity
                    ? 'runs away at a corner'
                    : `junction up to ${formatQuantity(hottest, 'degC', 3)}`,
                ] as const;
              }),
      },
      {
        heading: 'What can flow',
        lines:
          points.length === 0
            ? ['The stage has no operating point at any corner: what flows is not known.']
            : [
                [
                  'input, at the most',
                  `${formatQuantity(input, 'A', 3)}; ${fused}, for ${formatQuantity(vIn, 'V', 3)} dc`,
                ],
                [
                  'into a fault',
                  source === undefined || source <= 0
                    ? 'what the source gives: its resistance is not stated, so the fuse must break all of it'
                    : `${formatQuantity(vIn / source, 'A', 2)} out of the source, until the fuse breaks it`,
                ],
                [
                  elementWords('inductor').words,
                  `${formatQuantity(
                    most(({ inductorCurrent }) => inductorCurrent.peak),
                    'A',
                    3,
                  )} in operation${control.currentLimit === undefined ? '; no limit is stated' : `, ${formatQuantity(control.currentLimit, 'A', 3)} at the limit`}`,
                ],
              ],
      },
      ...(evaluation.notIncluded.length === 0
        ? []
        : [{ heading: 'Not in these numbers', lines: evaluation.notIncluded }]),
      { heading: 'Before power', lines: [...BEFORE, LAW] },
    ],
  };
}
