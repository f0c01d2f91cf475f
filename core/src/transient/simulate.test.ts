import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { complete, CURRENT, TYPE_3, VOLTAGE } from '../../testing/loopStage.js';
import { randomScenarios } from '../../testing/randomScenarios.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { lineStep, loadStep, oneWayStart, shortCircuit, startUp, type Scenario } from './scenario.js';
import { reducedWaveforms } from './reducedWaveforms.js';
import { simulate, simulateResponse, type SimulatedRun, type SimulationOptions } from './simulate.js';
import { waveformsCsv } from './waveformsCsv.js';

const FULL: OperatingCondition = { inputVoltage: 12, load: { kind: 'current', current: 12 } };
const RESISTIVE: OperatingCondition = { inputVoltage: 12, load: { kind: 'resistance', resistance: 0.4 } };
const CLAMPED = {
  ...VOLTAGE,
  dutyMax: 0.95,
  compensator: { ...TYPE_3, amplifier: { kind: 'op-amp', outputMin: 0, outputMax: 1.1 } },
};

function run(
  stage: CompleteStage,
  scenario: Scenario,
  condition: OperatingCondition = FULL,
  options: SimulationOptions = {},
): SimulatedRun {
  const result = simulate(stage, condition, scenario, options);
  if (result.kind === 'failed') throw new Error(result.reason);
  return result;
}
const share = ({ energy }: SimulatedRun): number =>
  Math.abs(energy.residual) / Math.max(Math.abs(energy.source), Math.abs(energy.load), Number.MIN_VALUE);
const ended = (made: SimulatedRun, by: string): number => made.occurrences.filter(({ what }) => what === by).length;

describe('energy', () => {
  test('every joule is accounted for, in stages of every topology and scheme, good or poor (seed 14)', () => {
    const schemes = new Set<string>();
    const topologies = new Set<string>();
    let runs = 0;
    fc.assert(
      fc.property(randomScenarios, ({ document, condition, scenario }) => {
        const read = stageFromDocument(document);
        if (!read.ok) throw new Error(JSON.stringify(read.problems));
        const stage = completeStage(read.value);
        if (!stage.ok) throw new Error('parts are missing');
        const result = simulate(stage.value, condition, scenario, { settling: 20 });
        // A stage whose target is out of reach has no settled state to start from, and says so.
        if (result.kind === 'failed') {
          expect(result.reason).toMatch(/[a-z]{3} [a-z]/);
          return;
        }
        runs += 1;
        schemes.add(read.value.control.scheme);
        topologies.add(read.value.topology);
        const saturates = read.value.parts.inductor?.saturationCurrent !== undefined;
        expect(share(result)).toBeLessThan(saturates ? 1e-4 : 1e-6);
        for (const figure of Object.values(result.measures)) if (figure !== null) expect(figure).not.toBeNaN();
      }),
      { seed: 14, numRuns: 300, endOnFailure: true },
    );
    expect(runs).toBeGreaterThan(180);
    expect(schemes.size).toBe(6);
    expect(topologies.size).toBe(4);
  }, 240_000);
  test('what is lost is lost in elements that have resistance, and the load gets the rest', () => {
    const { energy } = run(complete({}, CLAMPED), loadStep(0, undefined, 200));
    expect(Object.keys(energy.byElement).sort()).toEqual(['highSide1', 'inductor1', 'lowSide1', 'outputCapacitor1']);
    // 12 A at 3.3 V for 200 periods of 2 µs; the stage is settled, so nothing is stored.
    expect(energy.load / (12 * 3.3027 * 400e-6)).toBeCloseTo(1, 4);
    expect(Math.abs(energy.stored)).toBeLessThan(1e-9 * energy.source);
    expect(energy.losses / energy.source).toBeGreaterThan(0.02);
  });
});

describe('a settled stage', () => {
  test('stays as it is when nothing happens, on the orbit that the loop solved for', () => {
    const { measures, settled } = run(complete({}, VOLTAGE), loadStep(0, undefined, 100));
    expect(settled).toBe(true);
    expect(measures.undershoot + measures.overshoot).toBeCloseTo(measures.steadyOutputRipple, 6);
    expect(measures.averageSwitchingFrequency).toBeCloseTo(500e3, 0);
    expect(measures.averageOutputCurrent).toBeCloseTo(12, 9);
  });
  test('four phases share the load, and each ripples by itself', () => {
    const one = run(complete({}, VOLTAGE), loadStep(0, undefined, 50)).measures;
    const parts = { inductor: { inductance: 8.8e-6, resistance: 0.02 } };
    const four = run(complete({ phases: 4 }, VOLTAGE, parts), loadStep(0, undefined, 50)).measures;
    expect(four.peakInductorCurrent).toBeLessThan(0.3 * one.peakInductorCurrent);
    expect(four.steadyOutputRipple).toBeLessThan(0.5 * one.steadyOutputRipple);
  });
});

describe('a stage that has come to rest', () => {
  const light: OperatingCondition = { inputVoltage: 12, load: { kind: 'current', current: 0.4 } };
  test.each([
    ['critical conduction', complete({ operatingMode: 'critical-conduction' }, CLAMPED), light],
    ['dead times', complete({ deadTime: 30e-9 }, CLAMPED), FULL],
    [
      'a hiccup that has begun to count',
      complete({}, { ...CLAMPED, currentLimit: 12.5, hiccup: { periods: 1000, offTime: 1e-4 } }),
      FULL,
    ],
  ])('is stepped from again in the very same way: %s', (_, stage, condition) => {
    const step = loadStep(1, undefined, 40);
    const first = run(stage, step, condition);
    const again = run(stage, step, condition);
    expect(again.measures).toEqual(first.measures);
    expect(again.occurrences).toEqual(first.occurrences);
  });
  test('steps from one current and back share a drawing, and are what they are alone', () => {
    const from = (current: number): OperatingCondition => ({ inputVoltage: 12, load: { kind: 'current', current } });
    const up = loadStep(4, 2e6, 120);
    const down = loadStep(-4, 2e6, 120);
    const shared = complete({}, CLAMPED);
    run(shared, up, from(8));
    const back = run(shared, down, from(12)).measures;
    expect(back).toEqual(run(complete({}, CLAMPED), down, from(12)).measures);
    expect(back.averageOutputCurrent).toBeCloseTo(8, 9);
  });
  test('a response is over once the stage is at rest again, with the figures of the whole run', () => {
    const from = (current: number): OperatingCondition => ({ inputVoltage: 12, load: { kind: 'current', current } });
    const step = loadStep(4, 2e6, 600);
    const stage = complete({}, CLAMPED);
    const whole = run(stage, step, from(8));
    const response = simulateResponse(stage, from(8), step, from(12));
    if (response.kind === 'failed') throw new Error(response.reason);
    expect(response.waveforms.time.at(-1)).toBeLessThan(0.5 * (whole.waveforms.time.at(-1) ?? 0));
    expect(response.measures.undershoot).toBe(whole.measures.undershoot);
    expect(response.measures.overshoot).toBe(whole.measures.overshoot);
    expect(response.measures.recoveryTime / whole.measures.recoveryTime).toBeCloseTo(1, 3);
    expect(response.measures.finalOutputVoltage).toBeCloseTo(whole.measures.finalOutputVoltage, 5);
  });
});

describe('limits', () => {
  test('an amplifier without clamps winds up: after an unloading the output dips farther', () => {
    const step = loadStep(-11.5, undefined, 300);
    const held = run(complete({}, CLAMPED), step).measures;
    const wound = run(complete({}, VOLTAGE), step).measures;
    expect(wound.overshoot / held.overshoot).toBeCloseTo(1, 1);
    expect(wound.undershoot).toBeGreaterThan(1.3 * held.undershoot);
  });
  test('a current limit ends pulses, and the current of a short stays at it', () => {
    const { measures, occurrences } = run(
      complete({}, { ...CLAMPED, currentLimit: 16 }),
      shortCircuit(0.005, 100),
      RESISTIVE,
    );
    expect(measures.peakInductorCurrent).toBeCloseTo(16, 4);
    expect(occurrences.filter(({ what }) => what === 'limit').length).toBeGreaterThan(90);
  });
  test('after limited periods in a row the controller gives up for a while, then starts softly', () => {
    const hiccup = { periods: 8, offTime: 100e-6 };
    const control = { ...CLAMPED, currentLimit: 16, softStartTime: 50e-6, hiccup };
    const made = run(complete({}, control), shortCircuit(0.005, 300), RESISTIVE);
    // Limited for 8 periods, off for 50, and again: on average a fraction of the limit.
    expect(ended(made, 'limit')).toBeLessThan(100);
    expect(made.measures.averageOutputCurrent).toBeLessThan(8);
    expect(share(made)).toBeLessThan(1e-6);
  });
  test('below its lock-out a stage does not start; as the input rises it does', () => {
    const control = { ...CLAMPED, softStartTime: 100e-6, undervoltageLockout: { rising: 10, falling: 9 } };
    const condition: OperatingCondition = { ...RESISTIVE, inputVoltage: 9.5 };
    const still = run(complete({}, control), startUp(100), condition);
    expect(ended(still, 'begins')).toBe(0);
    const rising: Scenario = { start: 'zero', happenings: [{ kind: 'line', at: 40e-6, by: 2.5 }], cycles: 200 };
    const started = run(complete({}, control), rising, condition);
    expect(started.measures.finalOutputVoltage).toBeCloseTo(3.3, 1);
    expect(started.occurrences.find(({ what }) => what === 'begins')?.time).toBeGreaterThanOrEqual(40e-6);
  });
  test('a lock-out looks at the input of the stage, behind what feeds it, and does not chatter', () => {
    const control = { ...CLAMPED, softStartTime: 100e-6, undervoltageLockout: { rising: 10, falling: 7 } };
    const bank = { kind: 'ceramic', capacitance: 40e-6, esr: 0.003, esl: 5e-10, count: 1 };
    const parts = { source: { resistance: 0.1 }, inputCapacitors: [bank] };
    const made = run(complete({}, control, parts), startUp(300), RESISTIVE);
    const first = made.occurrences.find(({ what }) => what === 'begins')?.time ?? 0;
    // 40 µF through 0.1 ohm to 10 V of 12 V takes R C ln 6.
    expect(first).toBeGreaterThan(0.1 * 40e-6 * Math.log(6));
    expect(first).toBeLessThan(0.1 * 40e-6 * Math.log(6) + 4e-6);
    expect(ended(made, 'stopped')).toBe(0);
    expect(made.measures.finalOutputVoltage).toBeCloseTo(3.3, 1);
  });
  test('no pulse is shorter than the shortest, none longer than the longest', () => {
    const control = { ...CLAMPED, minimumOnTime: 300e-9, dutyMax: 0.5 };
    const { occurrences } = run(complete({}, control), loadStep(-11, undefined, 100));
    const begins = occurrences.filter(({ what }) => what === 'begins').map(({ time }) => time);
    const ends = occurrences.filter(({ what }) => what === 'comparator' || what === 'duty-limit');
    const lengths = ends.map(({ time }) => time - (begins.findLast((begin) => begin < time) ?? -Infinity));
    expect(Math.min(...lengths)).toBeGreaterThan(299e-9);
    expect(Math.max(...lengths.filter(Number.isFinite))).toBeLessThan(1.001e-6);
  });
});

describe('starts', () => {
  test('a soft start rises with its reference; without one the inductor current is many times larger', () => {
    const soft = run(complete({}, { ...CLAMPED, softStartTime: 400e-6 }), startUp(300), RESISTIVE).measures;
    expect(soft.riseTime).toBeCloseTo(0.8 * 400e-6, 5);
    expect(soft.overshoot).toBeLessThan(0.05);
    const hard = run(complete({}, CLAMPED), startUp(300), RESISTIVE).measures;
    expect(hard.peakInductorCurrent).toBeGreaterThan(2 * soft.peakInductorCurrent);
    expect(hard.inrushIntegral).toBeGreaterThan(soft.inrushIntegral / 4);
  });
  test('onto a pre-bias: a synchronous rectifier pulls the output down, a diode leaves it', () => {
    const control = { ...CLAMPED, softStartTime: 100e-6, preBias: 2 };
    const light: OperatingCondition = { inputVoltage: 12, load: { kind: 'resistance', resistance: 100 } };
    const pulled = run(complete({}, control), startUp(150), light).measures;
    const diode = { diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 } };
    const left = run(complete({ rectifier: 'diode' }, control, diode), startUp(150), light).measures;
    expect(pulled.leastInductorCurrent).toBeLessThan(-1);
    expect(pulled.leastOutputVoltage).toBeLessThan(1.5);
    expect(left.leastOutputVoltage).toBeGreaterThan(1.9);
  });
});

describe('a saturating inductor whose current is stepped into banks with series inductance', () => {
  const document = (saturationDrop: number | undefined) => ({
    topology: 'boost',
    targets: { inputVoltage: { min: 9, max: 9 }, outputVoltage: 24, outputCurrent: { min: 0.1, max: 3 } },
    deadTime: 20e-9,
    saturationDrop,
  });
  test('far below saturation it does as one that does not saturate, and every joule is accounted for', () => {
    const worked = (saturationDrop?: number): SimulatedRun => {
      const { deadTime, ...over } = document(saturationDrop);
      const inductor = {
        inductance: 6.8e-6,
        resistance: 0.015,
        ...(saturationDrop !== undefined && { saturationCurrent: 60, saturationDrop }),
      };
      const bank = { capacitance: 66e-6, esr: 0.002, esl: 0.2e-9 };
      const control = { ...CURRENT, currentSenseGain: 0.05 };
      const stage = complete({ topology: over.topology, targets: over.targets, deadTime }, control, {
        inductor,
        outputCapacitors: [bank],
      });
      const condition: OperatingCondition = { inputVoltage: 9, load: { kind: 'resistance', resistance: 24 } };
      return run(stage, { ...loadStep(1, 1e6, 200), fixedDuty: 0.64 }, condition);
    };
    const [soft, plain] = [worked(0.3), worked()];
    expect(share(soft)).toBeLessThan(1e-4);
    expect(soft.measures.peakInductorCurrent / plain.measures.peakInductorCurrent).toBeCloseTo(1, 1);
    expect(Math.abs(soft.measures.finalOutputVoltage - plain.measures.finalOutputVoltage)).toBeLessThan(0.1);
  });
});

describe('a start on a source that cannot sink', () => {
  const parts = { inputCapacitors: [{ kind: 'ceramic', capacitance: 22e-6, esr: 0.003, esl: 5e-10, count: 1 }] };
  const control = { ...CLAMPED, softStartTime: 100e-6, preBias: 3 };
  const light: OperatingCondition = { inputVoltage: 12, load: { kind: 'resistance', resistance: 100 } };
  const inputOf = ({ waveforms }: SimulatedRun) => waveforms.signals.find(({ name }) => name === 'input voltage');

  test('what a pre-biased output gives back stays on the input capacitors, and every joule of it is found there', () => {
    const made = run(complete({}, control, parts), oneWayStart(150), light);
    const peak = Math.max(...(inputOf(made)?.most ?? []));
    expect(peak).toBeGreaterThan(12.2);
    // No more can come back than the output capacitors held: 100 µF at 3 V onto 22 µF at 12 V.
    expect(peak).toBeLessThan(Math.sqrt(12 ** 2 + (100e-6 * 3 ** 2) / 22e-6));
    expect(made.energy.source).toBeGreaterThanOrEqual(0);
    expect(share(made)).toBeLessThan(1e-6);
    const supply = made.waveforms.signals.find(({ name }) => name === 'input current');
    expect(Math.min(...(supply?.least ?? []))).toBeGreaterThan(-1e-6);
    const sunk = run(complete({}, control, parts), startUp(150), light);
    expect(Math.max(...(inputOf(sunk)?.most ?? []))).toBeCloseTo(12, 6);
  });
  test('without input capacitors there is nowhere for it, and that is said', () => {
    const result = simulate(complete({}, control, { inputCapacitors: [] }), light, oneWayStart(20));
    expect(result.kind === 'failed' && result.reason).toMatch(/input capacitors/);
  });
});

describe('switch voltages', () => {
  test('are the input in a settled buck stage', () => {
    const { measures } = run(complete({}, CLAMPED), loadStep(0, undefined, 20));
    expect(measures.peakSwitchVoltage).toBeGreaterThan(11.9);
    expect(measures.peakSwitchVoltage).toBeLessThan(12.4);
  });
  // Common practice: ceramics plugged onto a live cable ring to nearly twice the source.
  test('plugged onto a live source with an inductance, the input rings to nearly twice the source, and the switches bear it', () => {
    const bank = { kind: 'ceramic', capacitance: 22e-6, esr: 0.003, esl: 5e-10, count: 1 };
    const parts = { source: { inductance: 1e-6, resistance: 0.01 }, inputCapacitors: [bank] };
    const made = run(complete({}, { ...CLAMPED, softStartTime: 400e-6 }, parts), startUp(100), RESISTIVE);
    expect(made.measures.peakSwitchVoltage).toBeGreaterThan(1.7 * 12);
    expect(made.measures.peakSwitchVoltage).toBeLessThan(2.05 * 12);
    const input = made.waveforms.signals.find(({ name }) => name === 'input voltage');
    expect(Math.max(...(input?.most ?? []))).toBeCloseTo(made.measures.peakSwitchVoltage, 0);
  });
});

describe('rectifiers', () => {
  // Common practice: from near no load a diode stage deviates about three times as much as a synchronous one.
  test('from near no load a diode stage deviates three times as much as a synchronous one', () => {
    const near: OperatingCondition = { inputVoltage: 12, load: { kind: 'current', current: 0.02 } };
    const step = loadStep(6, 6e6, 300);
    const synchronous = run(complete({}, CLAMPED), step, near).measures.undershoot;
    const diode = { diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 } };
    const passive = run(complete({ rectifier: 'diode' }, CLAMPED, diode), step, near).measures.undershoot;
    expect(passive / synchronous).toBeGreaterThan(2);
    expect(passive / synchronous).toBeLessThan(5);
  });
  test('an unregulated diode stage climbs when its load is removed', () => {
    const diode = { diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 } };
    const scenario = { ...loadStep(-11.9, undefined, 400), fixedDuty: 0.3 };
    const { measures } = run(complete({ rectifier: 'diode' }, CLAMPED, diode), scenario);
    expect(measures.finalOutputVoltage).toBeGreaterThan(1.5 * 3.3);
  });
});

describe('a run', () => {
  test('tells its progress, and ends within a slice of being told to', () => {
    const shares: number[] = [];
    const result = simulate(complete({}, VOLTAGE), FULL, loadStep(1, undefined, 1000), {
      progress: (done) => {
        shares.push(done);
        return shares.length < 5;
      },
    });
    expect(result).toEqual({ kind: 'failed', reason: 'the run was stopped' });
    expect(shares).toHaveLength(5);
    expect(shares[4]).toBeLessThan(0.1);
  });
  test('shows what there is of it on the way, as the whole has it in the end', () => {
    const looks: { readonly share: number; readonly time: Float64Array; readonly output: Float64Array }[] = [];
    const result = simulate(complete({}, VOLTAGE), FULL, loadStep(1, undefined, 1000), {
      progress: (share, sofar) => {
        const { time, signals } = sofar();
        looks.push({ share, time: time.slice(), output: (signals[0] as (typeof signals)[number]).most.slice() });
        return true;
      },
    });
    if (result.kind === 'failed') throw new Error(result.reason);
    const { time, signals } = result.waveforms;
    expect(looks.length).toBeGreaterThan(50);
    for (const look of looks) {
      expect(look.time.at(-1)).toBeCloseTo(look.share * (time.at(-1) as number), 9);
      expect(look.time).toEqual(time.subarray(0, look.time.length));
      expect(look.output).toEqual(signals[0]?.most.subarray(0, look.output.length));
    }
    expect(looks.at(-1)?.time).toHaveLength(time.length);
  });
  test('with fewer points keeps every peak', () => {
    const { waveforms, measures } = run(complete({}, VOLTAGE), loadStep(1, undefined, 1000));
    const { time, signals } = reducedWaveforms(waveforms, 100);
    expect(time.length).toBeLessThanOrEqual(100);
    expect(time.length).toBeGreaterThan(90);
    const [output] = signals;
    expect(output?.name).toBe('output voltage');
    expect(Math.max(...(output?.most ?? []))).toBeCloseTo(measures.peakOutputVoltage, 12);
    expect(Math.min(...(output?.least ?? []))).toBeCloseTo(measures.leastOutputVoltage, 12);
    expect(reducedWaveforms(waveforms, 1e6)).toEqual(waveforms);
  });
  test('long enough, keeps the least and the greatest between its points', () => {
    const stage = complete({}, { ...CURRENT });
    const long = run(stage, loadStep(4, undefined, 12_000), {
      inputVoltage: 12,
      load: { kind: 'current', current: 8 },
    });
    const { time, signals } = long.waveforms;
    expect(time.length).toBeLessThanOrEqual(400_000);
    const [output, , current] = signals;
    expect(Math.max(...Array.from(current?.most ?? []).slice(0, 4000))).toBeCloseTo(
      long.measures.peakInductorCurrent,
      6,
    );
    expect(output?.least.some((value, i) => value < (output.most[i] ?? 0))).toBe(true);
  }, 60_000);
  test('long enough to draw several points as one, ends with the same figures as one that draws them all', () => {
    // An alternating load step would show a stride in the averages: the recovery of a long run is that of a short one.
    const stage = complete({}, CURRENT);
    const condition: OperatingCondition = { inputVoltage: 12, load: { kind: 'current', current: 8 } };
    const short = run(stage, loadStep(4, undefined, 2000), condition).measures;
    const long = run(stage, loadStep(4, undefined, 12_000), condition);
    expect(long.measures.finalOutputVoltage).toBeCloseTo(short.finalOutputVoltage, 7);
    expect(Math.abs(long.measures.recoveryTime - short.recoveryTime)).toBeLessThan(1e-6);
    expect(long.waveforms.time.at(-1)).toBeCloseTo(12_000 * 2e-6, 12);
  }, 60_000);
  test('what happens at one instant happens at once', () => {
    const stage = complete({}, CLAMPED);
    const both: Scenario = {
      ...loadStep(4, undefined, 40),
      happenings: [
        { kind: 'load', at: 0, by: 1 },
        { kind: 'load', at: 0, by: 3 },
      ],
    };
    const condition: OperatingCondition = { inputVoltage: 12, load: { kind: 'current', current: 8 } };
    expect(run(stage, both, condition).measures).toEqual(run(stage, loadStep(4, undefined, 40), condition).measures);
  });
  test('two shorts of different resistance are refused in a sentence', () => {
    const shorts: Scenario = {
      ...shortCircuit(0.01, 40),
      happenings: [
        { kind: 'short', at: 0, resistance: 0.01 },
        { kind: 'short', at: 20e-6, resistance: undefined },
        { kind: 'short', at: 40e-6, resistance: 0.02 },
      ],
    };
    const refused = simulate(complete({}, CLAMPED), RESISTIVE, shorts);
    expect(refused).toMatchObject({
      kind: 'failed',
      reason: expect.stringMatching(/10\.0\s?mΩ and 20\.0\s?mΩ are two runs/),
    });
  });
  test('gives its waveforms as CSV, a row to a point', () => {
    const { waveforms } = run(complete({}, VOLTAGE), loadStep(1, undefined, 5));
    const lines = waveformsCsv(waveforms).trim().split('\n');
    expect(lines[0]).toMatch(
      /^time \(s\),output voltage.*load current \(A\),inductor current \(A\),control voltage \(V\)/,
    );
    expect(lines).toHaveLength(waveforms.time.length + 1);
    expect(lines[1]?.split(',').every((cell) => Number.isFinite(Number(cell)))).toBe(true);
  });
  test('a line step under feed-forward is met by the ramp within the period', () => {
    const forward = { ...CLAMPED, scheme: 'voltage-mode-feedforward' };
    const step = lineStep(2, 150);
    const met = run(complete({}, forward), step).measures;
    const unmet = run(complete({}, CLAMPED), step).measures;
    expect(met.overshoot).toBeLessThan(0.5 * unmet.overshoot);
  });
  test('what a stage lacks is said in words', () => {
    expect(simulate(complete({}, { scheme: 'voltage-mode' }), FULL, startUp(10))).toEqual({
      kind: 'failed',
      reason: 'the ramp amplitude is not given',
    });
  });
});

describe('what might never end', () => {
  const limited = { ...CLAMPED, currentLimit: 16 };
  test.each([
    ['an output short of no resistance at time zero', limited, shortCircuit(0, 60), RESISTIVE],
    ['a comparator that never trips', { ...VOLTAGE, rampAmplitude: 900 }, startUp(60), RESISTIVE],
    ['a limit below the ripple', { ...CLAMPED, currentLimit: 0.01 }, startUp(60), RESISTIVE],
    [
      'constant on-time without a least off-time, held by its limit',
      { scheme: 'constant-on-time', reference: 0.6, onTime: 300e-9, currentLimit: 3 },
      startUp(100),
      RESISTIVE,
    ],
    ['clamps with nothing between them', clampedTo(0.4, 0.4), startUp(60), RESISTIVE],
  ])('%s ends with a result or a sentence', (_, control, scenario, condition) => {
    const began = performance.now();
    const result = simulate(complete({}, control), condition, scenario);
    expect(performance.now() - began).toBeLessThan(20_000);
    if (result.kind === 'failed') expect(result.reason).toMatch(/ /);
    else expect(share(result)).toBeLessThan(1e-6);
  });
  test('sixteen phases whose clocks and limits come at once', () => {
    const control = { ...CLAMPED, currentLimit: 1.5 };
    const parts = { inductor: { inductance: 20e-6, resistance: 0.05 } };
    const made = run(complete({ phases: 16 }, control, parts), loadStep(4, undefined, 20));
    expect(share(made)).toBeLessThan(1e-6);
    expect(ended(made, 'begins')).toBeGreaterThan(200);
  }, 60_000);
});

function clampedTo(outputMin: number, outputMax: number): object {
  return { ...VOLTAGE, compensator: { ...TYPE_3, amplifier: { kind: 'op-amp', outputMin, outputMax } } };
}
