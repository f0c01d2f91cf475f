import type { Circuit } from '../circuit/elements.js';
import { stateLayout } from '../circuit/stateLayout.js';
import { capacitanceCurveOf } from '../parts/capacitorBank.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import type { Scenario } from './scenario.js';

/** A band of a capacitance curve is left where the capacitance has changed by this share: the value within is off by half as much. */
const BAND = 0.06;
/** Places at which a curve is looked at for its bands. */
const PLACES = 400;

/**
 * A bank whose capacitance goes with its voltage, as a run follows it: a charge made of straight stretches, each between two voltages, so
 * that between two of them the circuit is linear and stepped exactly like any other, and no charge is lost at their ends.
 */
export interface BiasedBank {
  readonly name: string;
  /** Its place among the states. */
  readonly state: number;
  /** V by magnitude at which each band begins; the first at none. */
  readonly from: readonly number[];
  /** F in each band: the average of the curve over it. */
  readonly capacitances: readonly number[];
  /** J held at a voltage. */
  readonly energy: (voltage: number) => number;
}

/** The number of the band a voltage lies in. */
export function bandAt({ from }: Pick<BiasedBank, 'from'>, voltage: number): number {
  const size = Math.abs(voltage);
  let band = from.length - 1;
  while (band > 0 && (from[band] as number) > size) band -= 1;
  return band;
}

/** The bands of a curve of capacitance, F over V by magnitude. */
export function bandsOf(
  { value, integral }: NonNullable<ReturnType<typeof capacitanceCurveOf>>,
  end: number,
): Pick<BiasedBank, 'from' | 'capacitances' | 'energy'> {
  const from = [0];
  let first = value(0);
  for (let k = 1; k <= PLACES; k += 1) {
    const voltage = (end * k) / PLACES;
    const here = value(voltage);
    if (k < PLACES && Math.abs(Math.log(here / first)) < BAND) continue;
    from.push(voltage);
    first = here;
  }
  const capacitances = from.map((low, band) => {
    const high = from[band + 1];
    return high === undefined ? value(low) : (integral(high) - integral(low)) / (high - low);
  });
  /** J at the beginning of each band. */
  const held = from.reduce<number[]>((sums, low, band) => {
    const before = from[band - 1];
    const gained = before === undefined ? 0 : ((capacitances[band - 1] ?? 0) * (low * low - before * before)) / 2;
    return [...sums, (sums.at(-1) ?? 0) + gained];
  }, []);
  return {
    from,
    capacitances,
    energy: (voltage) => {
      const band = bandAt({ from }, voltage);
      const low = from[band] ?? 0;
      return (held[band] ?? 0) + ((capacitances[band] ?? 0) * (voltage * voltage - low * low)) / 2;
    },
  };
}

/**
 * The banks that lose capacitance with their bias, where the scenario takes them far from the voltage they are drawn at: the output in a
 * start, in a short and without feedback, the input in a start and in a step of the line. A step of the load moves the output by a few per cent of
 * itself, and the capacitance by as little; there the banks stay as the loop has them. So does a bank with neither ESR nor ESL: it may
 * stand in a loop of capacitors, where the rate of its voltage is not its own.
 */
export function biasedBanks(
  { inputCapacitors, outputCapacitors, stage }: CompleteStage,
  circuit: Circuit,
  { happenings, start, fixedDuty }: Pick<Scenario, 'happenings' | 'start' | 'fixedDuty'>,
): readonly BiasedBank[] {
  const happens = (kind: string): boolean => happenings.some((one) => one.kind === kind);
  const outputMoves = start === 'zero' || happens('short') || fixedDuty !== undefined;
  const inputMoves = start === 'zero' || happens('line');
  const { indexOfCapacitor } = stateLayout(circuit);
  const banks = (prefix: string, of: readonly CapacitorBank[], moves: boolean): readonly BiasedBank[] =>
    of.flatMap((bank, j) => {
      const name = `${prefix}${String(j + 1)}`;
      const state = indexOfCapacitor.get(name);
      const curve = moves && (bank.esr > 0 || bank.esl > 0) ? capacitanceCurveOf(bank) : undefined;
      const end = bank.biasCurve?.at(-1)?.[0];
      if (!curve || state === undefined || end === undefined || end <= 0) return [];
      return [{ name, state, ...bandsOf(curve, end) }];
    });
  return [
    ...banks('outputCapacitor', outputCapacitors, outputMoves),
    ...banks('outputFilterCapacitor', stage.parts.outputFilter?.capacitors ?? [], outputMoves),
    ...banks('inputCapacitor', inputCapacitors, inputMoves),
  ];
}

/** A circuit with its biased banks as they are in their bands. */
export function withBands(circuit: Circuit, banks: readonly BiasedBank[], bands: readonly number[]): Circuit {
  if (banks.length === 0) return circuit;
  const capacitances = new Map(banks.map(({ name, capacitances: of }, k) => [name, of[bands[k] ?? 0]] as const));
  const elements = circuit.elements.map((e) =>
    e.kind === 'capacitor' ? { ...e, capacitance: capacitances.get(e.name) ?? e.capacitance } : e,
  );
  return { ...circuit, elements };
}
