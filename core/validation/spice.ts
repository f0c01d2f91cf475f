import { completeStage } from '../src/stage/completeStage.js';
import { stageFromDocument } from '../src/stage/readStage.js';
import { problemsSentence } from '../src/stage/problemSentence.js';
import { operatingPoint, type OperatingPoint } from '../src/steady/operatingPoint.js';
import type { OutsideCheck } from './outsideCheck.js';
import reference from './spiceCases.json' with { type: 'json' };

type Case = (typeof reference.cases)[number];
type Parameters = Readonly<Record<string, number | undefined>> & {
  readonly bankA?: Bank;
  readonly bankB?: Bank;
  readonly saturation?: { readonly Isat: number };
};
interface Bank {
  readonly C: number;
  readonly esr: number;
  readonly esl: number;
}

/** Losses, a small difference of two powers, within three percent of the loss. */
const LOSS = 0.03;
/** Averages and peaks within half a percent, ripple and RMS within one (the bar the product sets itself). */
const CLOSE = 0.005;
const RIPPLE = 0.01;

type Topology = 'buck' | 'boost' | 'inverting-buck-boost' | 'four-switch-buck-boost';
interface Shape {
  readonly topology: Topology;
  /** Names of the on-resistances in the reference. */
  readonly mainResistance: string;
  readonly rectifierResistance: string;
}

const BUCK: Shape = { topology: 'buck', mainResistance: 'rdsonHS', rectifierResistance: 'rdsonLS' };
const BOOST: Shape = { topology: 'boost', mainResistance: 'rdsonLS', rectifierResistance: 'rdsonHS' };
const SHAPES: Readonly<Record<string, Shape>> = {
  'buck-sync': BUCK,
  'buck-diode': BUCK,
  'interleaved-buck': BUCK,
  'coupled-interleaved-buck': BUCK,
  'boost-sync': BOOST,
  'boost-diode': BOOST,
  'inverting-buck-boost-sync': { ...BUCK, topology: 'inverting-buck-boost' },
  'four-switch-buck-boost': { ...BUCK, topology: 'four-switch-buck-boost' },
};
const PLACES = {
  buck: ['highSide', 'lowSide'],
  boost: ['lowSide', 'highSide'],
  'inverting-buck-boost': ['highSide', 'lowSide'],
  'four-switch-buck-boost': ['highSide', 'lowSide'],
} as const;

function unknownShape(topology: string): never {
  throw new Error(`No reading of the reference topology ${topology}.`);
}

/** The stage file of a reference case, and the condition it was run at. */
function solved(given: Case): OperatingPoint {
  const p = given.parameters as unknown as Parameters;
  const number = (key: string): number => {
    const value = p[key];
    if (typeof value !== 'number') throw new Error(`Case ${given.id} has no ${key}.`);
    return value;
  };
  const bank = ({ C, esr, esl }: Bank) => ({ capacitance: C, esr, esl });
  const banks =
    p.bankA && p.bankB ? [bank(p.bankA), bank(p.bankB)] : [{ capacitance: number('C'), esr: number('esr') }];
  const { topology, mainResistance, rectifierResistance } = SHAPES[given.topology] ?? unknownShape(given.topology);
  const diodeRectifier = given.topology.endsWith('-diode');
  const [main, rectifier] = PLACES[topology];
  const ideal = {
    buck: number('duty'),
    boost: 1 / (1 - number('duty')),
    'inverting-buck-boost': -number('duty') / (1 - number('duty')),
    'four-switch-buck-boost': number('duty') / (1 - number('duty')),
  };
  const bodies = p['diodeVf'] !== undefined && {
    bodyDiodeVoltage: p['diodeVf'],
    bodyDiodeResistance: number('diodeRd'),
  };
  const stage = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology,
    rectifier: diodeRectifier ? 'diode' : 'synchronous',
    phases: p['phases'] ?? 1,
    coupling:
      p['coupling'] === undefined
        ? { kind: 'none' }
        : { kind: p['coupling'] > 0 ? 'direct' : 'inverse', coefficient: Math.abs(p['coupling']) },
    legs: topology === 'four-switch-buck-boost' ? 'simultaneous' : undefined,
    switchingFrequency: number('fsw'),
    deadTime: p['deadtime'] ?? 0,
    targets: {
      inputVoltage: { min: number('vin'), max: number('vin') },
      outputVoltage: number('vin') * ideal[topology],
      outputCurrent: { max: 1 },
    },
    parts: {
      inductor: {
        inductance: number('L'),
        resistance: number('dcr'),
        // The reference law halves the inductance at this current.
        ...(p.saturation && { saturationCurrent: p.saturation.Isat, saturationDrop: 0.5 }),
      },
      outputCapacitors: banks,
      ...(topology === 'four-switch-buck-boost'
        ? {
            highSide: { onResistance: number('rdsonA') },
            lowSide: { onResistance: number('rdsonB') },
            outputLowSide: { onResistance: number('rdsonC') },
            outputHighSide: { onResistance: number('rdsonD') },
          }
        : { [main]: { onResistance: number(mainResistance) } }),
      ...(diodeRectifier && { diode: { forwardVoltage: number('diodeVf'), dynamicResistance: number('diodeRd') } }),
      ...(!diodeRectifier &&
        topology !== 'four-switch-buck-boost' && {
          [rectifier]: { onResistance: number(rectifierResistance), ...bodies },
        }),
    },
  });
  if (!stage.ok) throw new Error(`${given.id}: ${problemsSentence(stage.problems)}`);
  const complete = completeStage(stage.value);
  if (!complete.ok) throw new Error(`${given.id}: ${problemsSentence(complete.problems)}`);
  const found = operatingPoint(
    complete.value,
    { inputVoltage: number('vin'), load: { kind: 'resistance', resistance: number('rload') } },
    { fixedDuty: number('duty') },
  );
  if (found.kind !== 'solved') throw new Error(`${given.id}: ${found.reason}`);
  return found.point;
}

interface Read {
  readonly quantity: string;
  readonly unit: string;
  readonly relative: number;
  readonly of: (point: OperatingPoint) => number;
}

const READINGS: Readonly<Record<string, Read>> = {
  outputVoltageAvg: { quantity: 'output voltage', unit: 'V', relative: CLOSE, of: (p) => p.outputVoltage },
  outputRipplePp: { quantity: 'output ripple', unit: 'V', relative: RIPPLE, of: (p) => p.outputRipple },
  inductorCurrentAvg: {
    quantity: 'average inductor current',
    unit: 'A',
    relative: CLOSE,
    of: (p) => p.inductorCurrent.average,
  },
  inductorCurrentPeak: {
    quantity: 'peak inductor current',
    unit: 'A',
    relative: CLOSE,
    of: (p) => p.inductorCurrent.peak,
  },
  inductorRipplePp: {
    quantity: 'inductor ripple current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.inductorCurrent.ripple,
  },
  inductorCurrentRms: {
    quantity: 'inductor RMS current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.inductorCurrent.rms,
  },
  summedInductorRipplePp: {
    quantity: 'summed inductor ripple',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.totalInductorRipple,
  },
  inputCurrentAvg: { quantity: 'input current', unit: 'A', relative: CLOSE, of: (p) => p.inputCurrent },
  inputCapRms: { quantity: 'input capacitor RMS current', unit: 'A', relative: RIPPLE, of: (p) => p.inputCapacitorRms },
  outputCapRms: {
    quantity: 'output capacitor RMS current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.outputCapacitorRms,
  },
  bankARms: {
    quantity: 'RMS current of the ceramic bank',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.outputCapacitorBanks[0]?.rms ?? NaN,
  },
  bankBRms: {
    quantity: 'RMS current of the electrolytic bank',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.outputCapacitorBanks[1]?.rms ?? NaN,
  },
  switchHSRms: {
    quantity: 'high-side RMS current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.switchStress['highSide']?.rmsCurrent ?? NaN,
  },
  switchLSRms: {
    quantity: 'low-side RMS current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.switchStress['lowSide']?.rmsCurrent ?? NaN,
  },
  diodeCurrentRms: {
    quantity: 'rectifier diode RMS current',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.switchStress[p.outputVoltage > p.inputVoltage ? 'highSide' : 'lowSide']?.rmsCurrent ?? NaN,
  },
  switchARms: {
    quantity: 'RMS current of the input high side',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.switchStress['highSide']?.rmsCurrent ?? NaN,
  },
  switchCRms: {
    quantity: 'RMS current of the output low side',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.switchStress['outputLowSide']?.rmsCurrent ?? NaN,
  },
  switchDRms: {
    quantity: 'RMS current of the output high side',
    unit: 'A',
    relative: RIPPLE,
    of: (p) => p.switchStress['outputHighSide']?.rmsCurrent ?? NaN,
  },
  efficiency: { quantity: 'conduction efficiency', unit: '', relative: CLOSE, of: (p) => p.efficiency },
};

/** The engine against an independent SPICE engine, case by case. */
export const spiceChecks: readonly OutsideCheck[] = reference.cases.flatMap((given) => {
  let point: OperatingPoint | undefined;
  const get = (): OperatingPoint => (point ??= solved(given));
  const uncertainty = given.uncertainty as Readonly<Record<string, number | undefined>>;
  const source = `ngspice 39, case ${given.id}: ${given.title}`;
  const { inputPower, outputPower } = given.measured as Readonly<Record<string, number | undefined>>;
  const loss: readonly OutsideCheck[] =
    inputPower === undefined || outputPower === undefined
      ? []
      : [
          {
            source,
            quantity: 'conduction loss',
            unit: 'W',
            expected: inputPower - outputPower,
            relative: LOSS,
            absolute: 0,
            computed: () => get().losses['total'] ?? NaN,
          },
        ];
  const read = Object.entries(given.measured).flatMap(([key, expected]): readonly OutsideCheck[] => {
    const reading = READINGS[key];
    if (!reading || typeof expected !== 'number') return [];
    // With dead time the reference gives the current of the body diode, not of a rectifier.
    if (key === 'diodeCurrentRms' && !given.topology.endsWith('-diode')) return [];
    return [
      {
        source,
        quantity: reading.quantity,
        unit: reading.unit,
        expected,
        relative: reading.relative,
        absolute: uncertainty[key] ?? 0,
        computed: () => reading.of(get()),
      },
    ];
  });
  return [...read, ...loss];
});
