import { closeLoop } from '../src/smallsignal/closedLoop.js';
import { loopAt, LoopResponse, type LoopReport } from '../src/smallsignal/loopResponse.js';
import { decibels, degreesOf } from '../src/linalg/complex.js';
import type { Margin } from '../src/smallsignal/margins.js';
import { solved as solvedStage, type LoopStage } from './loopStage.js';
import type { OutsideCheck } from './outsideCheck.js';
import reference from './loopCases.json' with { type: 'json' };

type Case = (typeof reference.designs)[number];

/** The bars the product sets itself. */
const CROSSOVER = 0.005;
const PHASE = 0.5;
const GAIN = 0.1;
const MULTIPLIER = 1e-3;
const IMPEDANCE = 0.01;
/** A linear response misses by up to this where the load changes by half. */
const LINEAR = 0.1;

/** The stage file of a reference design. */
function documentOf(given: Case): object {
  const { elements, compensator: part } = given;
  const boost = given.id.includes('boost');
  const {
    sh = [],
    sl = [],
    L = [],
    Co = [],
    R = [],
    vin = [],
    d,
  } = elements as Readonly<Record<string, readonly number[]>>;
  const rectifier = boost ? sh : sl;
  const c = part as Readonly<Record<string, number | string | undefined>>;
  return {
    format: 'yundro-stage',
    version: 1,
    topology: boost ? 'boost' : 'buck',
    rectifier: d ? 'diode' : 'synchronous',
    switchingFrequency: given.fs,
    targets: {
      inputVoltage: { min: vin[0], max: vin[0] },
      outputVoltage: given.vout,
      outputCurrent: { max: given.vout / (R[0] ?? NaN) },
    },
    parts: {
      inductor: { inductance: L[0], resistance: L[1] },
      outputCapacitors: [{ capacitance: Co[0], esr: Co[1] }],
      [boost ? 'lowSide' : 'highSide']: { onResistance: (boost ? sl : sh)[0] },
      ...(d
        ? { diode: { forwardVoltage: d[0], dynamicResistance: d[1] } }
        : { [boost ? 'highSide' : 'lowSide']: { onResistance: rectifier[0] } }),
    },
    control: {
      reference: c['vref'],
      dutyMax: given.dmax,
      ...(given.control === 'pcm'
        ? { scheme: 'peak-current-mode', currentSenseGain: given.Ri, slopeCompensation: given.slope }
        : { scheme: 'voltage-mode', rampAmplitude: given.ramp_pp }),
      compensator: {
        network: c['type'] === 'III' ? 'type-3' : 'type-2',
        amplifier:
          c['type'] === 'III'
            ? { kind: 'op-amp' }
            : { kind: 'ota', transconductance: c['gm'], outputResistance: c['Ro'] },
        components: {
          rUpper: c['R1'],
          rLower: c['Rlow'],
          rZero: c['R2'],
          cZero: c['C1'],
          cPole: c['C2'],
          ...(c['type'] === 'III' && { rFeedforward: c['R3'], cFeedforward: c['C3'] }),
        },
      },
    },
  };
}

const stages = new Map<string, LoopStage>();
/** A reference design as a stage, solved. */
export function loopCaseStage(given: Case): LoopStage {
  const [inputVoltage = NaN] = given.elements.vin;
  const [resistance = NaN] = given.elements.R;
  const stage = stages.get(given.id) ?? solvedStage(documentOf(given), inputVoltage, resistance);
  stages.set(given.id, stage);
  return stage;
}

/** Deviation after a step of load current by the linear response, ripple included, on the side to which the output goes. */
function deviation(given: Case, step: number, window: number): number {
  const { complete, condition, found } = loopCaseStage(given);
  const closed = closeLoop(complete, condition, found);
  if (closed.kind !== 'closed') throw new Error(closed.reason);
  const { signal } = new LoopResponse(closed.loop).stepped(step, window);
  return step > 0 ? -Math.min(...signal) : Math.max(...signal);
}

const solved = new Map<string, LoopReport>();
function loopOf(given: Case): LoopReport {
  const known = solved.get(given.id);
  if (known) return known;
  const { complete, condition, found: steady } = loopCaseStage(given);
  const found = loopAt(
    complete,
    condition,
    given.samples.map(([share = NaN]) => share * given.fs),
    { solved: steady },
  );
  if (found.kind !== 'solved') throw new Error(found.reason);
  solved.set(given.id, found);
  return found;
}

const valueOf = (margin: Margin): number => (margin.kind === 'found' ? margin.value : NaN);

/** Magnitude of a multiplier that its partner in the list shares, and real part of each, in the order of the reference. */
const multiplierChecks = (given: Case, check: (what: Omit<OutsideCheck, 'source'>) => OutsideCheck) =>
  given.multipliers.flatMap(([re = NaN, im = NaN], k) => {
    // The nearest of ours: pairs and equal magnitudes have no order.
    const nearest = () =>
      loopOf(given).floquetMultipliers.reduce((best, one) =>
        Math.hypot(one.re - re, one.im - im) < Math.hypot(best.re - re, best.im - im) ? one : best,
      );
    const part = (name: 're' | 'im', expected: number) =>
      check({
        quantity: `${given.id}: multiplier ${String(k + 1)}, ${name === 're' ? 'real' : 'imaginary'} part`,
        unit: '',
        expected,
        relative: 0,
        absolute: MULTIPLIER,
        computed: () => nearest()[name],
      });
    return im === 0 ? [part('re', re)] : [part('re', re), part('im', im)];
  });

/** Loop gain, margins, multipliers and output impedance of whole closed loops. */
export const loopChecks: readonly OutsideCheck[] = reference.designs.flatMap((given) => {
  const check = (what: Omit<OutsideCheck, 'source'>): OutsideCheck => ({ source: reference.source, ...what });
  return [
    check({
      quantity: `${given.id}: crossover frequency`,
      unit: 'Hz',
      expected: given.crossover,
      relative: CROSSOVER,
      computed: () => valueOf(loopOf(given).crossover),
    }),
    check({
      quantity: `${given.id}: phase margin`,
      unit: 'degrees',
      expected: given.phaseMargin,
      relative: 0,
      absolute: PHASE,
      computed: () => valueOf(loopOf(given).phaseMargin),
    }),
    ...(given.gainMargin === null
      ? []
      : [
          check({
            quantity: `${given.id}: gain margin`,
            unit: 'dB',
            expected: given.gainMargin,
            relative: 0,
            absolute: GAIN,
            computed: () => valueOf(loopOf(given).gainMargin),
          }),
        ]),
    check({
      quantity: `${given.id}: largest output impedance`,
      unit: 'Ω',
      expected: given.zoutPeak,
      relative: IMPEDANCE,
      computed: () => loopOf(given).outputImpedancePeak.impedance,
    }),
    ...given.samples.flatMap(([share = NaN, magnitude = NaN, degrees = NaN], k) => {
      const loop = () => loopOf(given).points[k]?.loop ?? { re: NaN, im: NaN };
      return [
        check({
          quantity: `${given.id}: loop gain at ${String(share)} of the switching frequency`,
          unit: 'dB',
          expected: 20 * Math.log10(magnitude),
          relative: 0,
          absolute: GAIN,
          computed: () => decibels(loop()),
        }),
        check({
          quantity: `${given.id}: phase at ${String(share)} of the switching frequency`,
          unit: 'degrees',
          expected: degrees,
          relative: 0,
          absolute: PHASE,
          computed: () => {
            const phase = degreesOf(loop());
            return phase + 360 * Math.round((degrees - phase) / 360);
          },
        }),
      ];
    }),
    ...multiplierChecks(given, check),
    ...given.steps.flatMap(({ step, linear, simulated, window }) => {
      const words = `${given.id}: ${step > 0 ? 'undershoot' : 'overshoot'} after a step of ${(1000 * step).toPrecision(3)} mA`;
      const computed = () => deviation(given, step, window);
      return [
        check({ quantity: `${words}, linear`, unit: 'V', expected: linear, relative: 2e-3, computed }),
        check({
          quantity: `${words}, switched simulation`,
          unit: 'V',
          expected: simulated,
          relative: LINEAR,
          computed,
        }),
      ];
    }),
  ];
});
