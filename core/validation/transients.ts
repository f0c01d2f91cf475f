import { completeStage, type CompleteStage } from '../src/stage/completeStage.js';
import { problemsSentence } from '../src/stage/problemSentence.js';
import { stageFromDocument } from '../src/stage/readStage.js';
import type { OperatingCondition } from '../src/powerstage/powerStage.js';
import { lineStep, loadStep, shortCircuit, startUp, type Scenario } from '../src/transient/scenario.js';
import { simulate, type SimulatedRun } from '../src/transient/simulate.js';
import loops from './loopCases.json' with { type: 'json' };
import { loopCaseStage } from './loops.js';
import type { OutsideCheck } from './outsideCheck.js';
import spice from './spiceTransientCases.json' with { type: 'json' };
import worked from './transientCases.json' with { type: 'json' };

function completed(document: object, id: string): CompleteStage {
  const stage = stageFromDocument(document);
  if (!stage.ok) throw new Error(`${id}: ${problemsSentence(stage.problems)}`);
  const complete = completeStage(stage.value);
  if (!complete.ok) throw new Error(`${id}: ${problemsSentence(complete.problems)}`);
  return complete.value;
}

/** A run is made when the first of its figures is asked for. */
function once(make: () => SimulatedRun): () => SimulatedRun {
  let kept: SimulatedRun | undefined;
  return () => (kept ??= make());
}

function run(complete: CompleteStage, condition: OperatingCondition, scenario: Scenario): SimulatedRun {
  const result = simulate(complete, condition, scenario);
  if (result.kind === 'failed') throw new Error(result.reason);
  return result;
}

/** The condition and scenario that the words of a `simulate` command ask for. */
export function asked(words: readonly (string | number)[]): {
  readonly condition: OperatingCondition;
  readonly scenario: Scenario;
} {
  const option = (name: string): number | undefined => {
    const at = words.indexOf(`--${name}`);
    return at < 0 ? undefined : Number(words[at + 1]);
  };
  const cycles = option('cycles') ?? NaN;
  const step = option('step') ?? NaN;
  const kinds: Readonly<Record<string, () => Scenario>> = {
    'load-step': () => loadStep(step, option('slew'), cycles),
    'line-step': () => lineStep(step, cycles),
    'short-circuit': () => shortCircuit(option('short') ?? NaN, cycles),
    'start-up': () => startUp(cycles),
  };
  const kind = kinds[String(words[words.indexOf('--scenario') + 1])];
  if (!kind) throw new Error('no such scenario');
  const resistance = option('rload');
  const fixedDuty = option('duty');
  return {
    condition: {
      inputVoltage: option('vin') ?? NaN,
      load:
        resistance === undefined
          ? { kind: 'current', current: option('iout') ?? NaN }
          : { kind: 'resistance', resistance },
    },
    scenario: fixedDuty === undefined ? kind() : { ...kind(), fixedDuty },
  };
}

const UNITS: Readonly<Record<string, string>> = {
  recoveryTime: 's',
  riseTime: 's',
  peakInductorCurrent: 'A',
  averageOutputCurrent: 'A',
  averageSwitchingFrequency: 'Hz',
  inrushIntegral: 'A² s',
};

const workedChecks: readonly OutsideCheck[] = worked.cases.flatMap(({ id, about, command, stage, expect }) => {
  const made = once(() => {
    const { condition, scenario } = asked(command);
    return run(completed(stage, id), condition, scenario);
  });
  return expect.map(([figure, value, tolerance]): OutsideCheck => ({
    source: `an event-driven simulator and a SPICE engine, both independent: ${id}, ${about}`,
    quantity: String(figure),
    unit: UNITS[String(figure)] ?? 'V',
    expected: Number(value),
    relative: Number(tolerance),
    computed: () => Number(made().measures[figure as keyof SimulatedRun['measures']]),
  }));
});

/** The bar for load steps of the reference designs. */
const STEP = 0.005;

const loopStepChecks: readonly OutsideCheck[] = loops.designs.flatMap((design) =>
  ('steps' in design ? design.steps : []).map(({ step, simulated, window }): OutsideCheck => ({
    source: `an independent event-driven simulation of ${design.id}`,
    quantity: `deviation after a step of ${String(step)} A, simulated`,
    unit: 'V',
    expected: simulated,
    relative: STEP,
    computed: () => {
      const { complete, condition } = loopCaseStage(design);
      const { undershoot, overshoot } = run(complete, condition, loadStep(step, undefined, window)).measures;
      return step > 0 ? undershoot : overshoot;
    },
  })),
);

type SpiceCase = (typeof spice.cases)[number];
/** The bar for the dynamic cases. */
const DYNAMIC = 0.05;

/** The stage of a dynamic case: a buck, or a boost where the output lies above the input. */
function spiceStage({ id, parameters }: SpiceCase): CompleteStage {
  const p = parameters as Readonly<Record<string, number | undefined>>;
  const vOut = p['vout'] ?? 5;
  const boost = vOut > (p['vin'] ?? 0);
  const clamp = (parameters as { readonly opampClamp?: readonly number[] }).opampClamp;
  const [main, other] = boost ? [p['rdsonLS'], p['rdsonHS']] : [p['rdsonHS'], p['rdsonLS']];
  const controls: Readonly<Record<string, object>> = {
    // The amplifier stands at its highest output for good: a control voltage that is held.
    B23: {
      scheme: 'peak-current-mode',
      reference: 0.8,
      currentSenseGain: p['Ri'],
      slopeCompensation: p['slopeComp'],
      compensator: {
        network: 'type-2',
        amplifier: { kind: 'op-amp', outputMax: p['controlVoltage'] },
        components: { rUpper: 90e3, rLower: 10e3, rZero: 1e3, cZero: 1e-9 },
      },
    },
    B25: {
      scheme: 'constant-on-time',
      reference: p['vref'],
      onTime: p['onTime'],
      minimumOffTime: p['minOffTime'],
      compensator: { network: 'integrator', components: { rUpper: 1e-3, rLower: 1e6 } },
    },
  };
  const voltage = {
    scheme: 'voltage-mode',
    reference: p['vref'],
    dutyMax: 0.95,
    rampAmplitude: p['rampAmplitude'],
    compensator: {
      network: 'type-3',
      amplifier: {
        kind: 'op-amp',
        openLoopGain: p['opampDcGain'],
        gainBandwidth: p['opampGbw'],
        ...(clamp && { outputMin: clamp[0], outputMax: clamp[1] }),
      },
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
  };
  return completed(
    {
      format: 'yundro-stage',
      version: 1,
      topology: boost ? 'boost' : 'buck',
      rectifier: p['diodeVf'] === undefined ? 'synchronous' : 'diode',
      switchingFrequency: p['fsw'],
      targets: {
        inputVoltage: { min: p['vin'], max: p['vin'] },
        outputVoltage: vOut,
        outputCurrent: { max: 10 },
      },
      parts: {
        inductor: { inductance: p['L'], resistance: p['dcr'] },
        outputCapacitors: [{ capacitance: p['C'], esr: p['esr'] }],
        [boost ? 'lowSide' : 'highSide']: { onResistance: main },
        ...(p['diodeVf'] === undefined
          ? { [boost ? 'highSide' : 'lowSide']: { onResistance: other } }
          : { diode: { forwardVoltage: p['diodeVf'], dynamicResistance: p['diodeRd'] } }),
      },
      control: controls[id.slice(0, 3)] ?? voltage,
    },
    id,
  );
}

/** Half a period after a clock a load step begins there; it goes back after this many periods. */
const STEP_PERIODS = 250;

function spiceRun(given: SpiceCase): SimulatedRun {
  const complete = spiceStage(given);
  const p = given.parameters as Readonly<Record<string, number | undefined>>;
  const { loadStep: step } = given.parameters as {
    readonly loadStep?: { readonly from: number; readonly to: number; readonly edgeTime: number };
  };
  const inputVoltage = p['vin'] ?? NaN;
  const resistive = p['rload'] === undefined ? undefined : ({ kind: 'resistance', resistance: p['rload'] } as const);
  if (!step)
    return run(
      complete,
      { inputVoltage, load: resistive ?? { kind: 'current', current: 1 } },
      { start: 'settled', happenings: [], cycles: 400 },
    );
  const by = step.to - step.from;
  return run(
    complete,
    { inputVoltage, load: resistive ?? { kind: 'current', current: step.from } },
    {
      start: 'settled',
      happenings: [{ kind: 'load', at: 0.5 / complete.switchingFrequency, by, slewRate: by / step.edgeTime }],
      cycles: STEP_PERIODS,
    },
  );
}

const SPICE_FIGURES: Readonly<Record<string, (made: SimulatedRun) => number>> = {
  'stepUp.peakUndershoot': ({ measures }) => measures.undershoot,
  outputVoltageAvg: ({ measures }) => measures.finalOutputVoltage,
  outputRipplePp: ({ measures }) => measures.steadyOutputRipple,
  inductorCurrentPeak: ({ measures }) => measures.peakInductorCurrent,
  switchingFrequencyMean: ({ measures }) => measures.averageSwitchingFrequency,
};
/** With too little ripple the pulses follow each other in no order: only averages are comparable. */
const STATISTICS: ReadonlySet<string> = new Set(['outputVoltageAvg', 'switchingFrequencyMean']);
/** A step back is another run; its peak is not that of this one. */
const ofOneRun = (id: string, figure: string): boolean =>
  id === 'B25b' ? STATISTICS.has(figure) : !(figure === 'inductorCurrentPeak' && /^B2[0146]/.test(id));

const spiceStepChecks: readonly OutsideCheck[] = spice.cases.flatMap((given) => {
  const made = once(() => spiceRun(given));
  return Object.entries(given.measured).flatMap(([figure, expected]): readonly OutsideCheck[] => {
    const read = SPICE_FIGURES[figure];
    return read && ofOneRun(given.id, figure)
      ? [
          {
            source: `an independent SPICE engine: ${given.id}, ${given.title}`,
            quantity: figure,
            unit: figure.startsWith('switching') ? 'Hz' : figure.startsWith('inductor') ? 'A' : 'V',
            expected,
            relative: DYNAMIC,
            computed: () => read(made()),
          },
        ]
      : [];
  });
});

export const transientChecks: readonly OutsideCheck[] = [...workedChecks, ...loopStepChecks, ...spiceStepChecks];
