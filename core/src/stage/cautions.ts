import { topologyOf } from '../topology/topologies.js';
import type { Stage } from './schema.js';

/**
 * DC voltage up to which IEC 62368-1 takes an electrical energy source as class 1 (ES1), V. From memory: check against the
 * standard.
 *
 * @public
 */
export const ES1_LIMIT = 60;

/** What can hurt someone about a stage, each a sentence for the place where the stage is worked on. @public */
export function cautionsOf(stage: Stage): readonly string[] {
  const { targets, parts } = stage;
  const highest = Math.max(Math.abs(targets.outputVoltage), targets.inputVoltage.max);
  const kinds = [...(parts.outputCapacitors ?? []), ...(parts.inputCapacitors ?? [])].map(({ kind }) => kind);
  const cautions: readonly (readonly [boolean, string])[] = [
    [
      highest > ES1_LIMIT,
      `This stage holds more than ${String(ES1_LIMIT)} V DC, the limit of the lowest energy class of IEC 62368-1: guard it, let its capacitors discharge, and have licensed practice check it.`,
    ],
    [
      topologyOf(stage).reach !== 'below',
      'Without feedback or without load the output of this stage can run far above its target: fit a clamp before the first power-up.',
    ],
    [
      kinds.includes('tantalum'),
      'Tantalum capacitors can burn under surge: limit the inrush and derate their voltage.',
    ],
    [
      kinds.includes('electrolytic'),
      'Electrolytic capacitors burst when reversed: check their polarity before the first power-up.',
    ],
  ];
  return cautions.flatMap(([holds, sentence]) => (holds ? [sentence] : []));
}
