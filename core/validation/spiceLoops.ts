import { completeStage } from '../src/stage/completeStage.js';
import { problemsSentence } from '../src/stage/problemSentence.js';
import { stageFromDocument } from '../src/stage/readStage.js';
import { loopAt, type LoopReport } from '../src/smallsignal/loopResponse.js';
import { decibels, degreesOf, type Complex } from '../src/linalg/complex.js';
import type { OutsideCheck } from './outsideCheck.js';
import reference from './spiceLoopCases.json' with { type: 'json' };

type Case = (typeof reference.cases)[number];

/** The bars the product sets itself, up to a third of the switching frequency. */
const GAIN = 0.5;
const PHASE = 3;

const solved = new Map<string, LoopReport>();
function loopOf(given: Case): LoopReport {
  const known = solved.get(given.id);
  if (known) return known;
  const p = given.parameters as Readonly<Record<string, number>>;
  const boost = given.topology.startsWith('boost');
  const high = { onResistance: p['rdsonHS'] };
  const low = { onResistance: p['rdsonLS'] };
  const stage = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: boost ? 'boost' : 'buck',
    switchingFrequency: p['fsw'],
    targets: {
      inputVoltage: { min: p['vin'], max: p['vin'] },
      outputVoltage: p['vout'],
      outputCurrent: { max: 10 },
    },
    parts: {
      inductor: { inductance: p['L'], resistance: p['dcr'] },
      outputCapacitors: [{ capacitance: p['C'], esr: p['esr'] }],
      highSide: high,
      lowSide: low,
    },
    control: {
      scheme: 'voltage-mode',
      reference: p['vref'],
      rampAmplitude: p['rampAmplitude'],
      compensator: {
        network: 'type-3',
        amplifier: { kind: 'op-amp', openLoopGain: p['opampDcGain'], gainBandwidth: p['opampGbw'] },
        components: {
          rUpper: p['R1'],
          rLower: p['Rb'],
          rZero: p['R2'],
          cZero: p['C1'],
          cPole: p['C2'],
          rFeedforward: p['R3'],
          cFeedforward: p['C3'],
        },
      },
    },
  });
  if (!stage.ok) throw new Error(problemsSentence(stage.problems));
  const complete = completeStage(stage.value);
  if (!complete.ok) throw new Error(problemsSentence(complete.problems));
  const { rload, iload = 0, vin = NaN } = p;
  const load =
    rload === undefined
      ? ({ kind: 'current', current: iload } as const)
      : ({ kind: 'resistance', resistance: rload } as const);
  const frequencies = [...given.loopGain, ...given.plant].map(([frequency = NaN]) => frequency);
  const found = loopAt(complete.value, { inputVoltage: vin, load }, frequencies);
  if (found.kind !== 'solved') throw new Error(found.reason);
  solved.set(given.id, found);
  return found;
}

const degreesNear = (value: Complex, near: number): number => {
  const phase = degreesOf(value);
  return phase + 360 * Math.round((near - phase) / 360);
};

/** Loop gain and control-to-output response as an independent circuit simulator measures them by injection. */
export const spiceLoopChecks: readonly OutsideCheck[] = reference.cases.flatMap((given) =>
  (['loop', 'plant'] as const).flatMap((which) => {
    const samples = which === 'loop' ? given.loopGain : given.plant;
    const before = which === 'loop' ? 0 : given.loopGain.length;
    return samples.flatMap(([frequency = NaN, gain = NaN, degrees = NaN], k): OutsideCheck[] => {
      const value = () => loopOf(given).points[before + k]?.[which] ?? { re: NaN, im: NaN };
      const quantity = `${given.id}: ${which === 'loop' ? 'loop gain' : 'control to output'} at ${String(frequency)} Hz`;
      const common = { source: reference.source, relative: 0 };
      return [
        { ...common, quantity, unit: 'dB', expected: gain, absolute: GAIN, computed: () => decibels(value()) },
        {
          ...common,
          quantity: `${quantity}, phase`,
          unit: 'degrees',
          expected: degrees,
          absolute: PHASE,
          computed: () => degreesNear(value(), degrees),
        },
      ];
    });
  }),
);
