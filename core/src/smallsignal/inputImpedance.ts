import { GROUND, resistor, voltageSource } from '../circuit/elements.js';
import { linearResponse } from '../circuit/linearResponse.js';
import { magnitude, product, ratio, type Complex } from '../linalg/complex.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { solveStage } from '../steady/solveStage.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { inputSide } from '../powerstage/surroundings.js';
import { closeLoop } from './closedLoop.js';
import { LoopResponse } from './loopResponse.js';

/** The impedances that meet at the input of the switching cell, ohm. */
export interface InputImpedancePoint {
  readonly frequency: number;
  /** Of source, filter and input capacitors, seen from the cell. */
  readonly filter: Complex;
  /** Of the stage with its loop closed. */
  readonly closed: Complex;
  /** With the control voltage held: Z_D; absent where a scheme has none that could stand still. */
  readonly driven?: Complex;
  /** With the output nulled, as by an ideal loop: Z_N. */
  readonly nulled?: Complex;
}

/** @public */
export interface InputImpedances {
  readonly kind: 'solved';
  readonly points: readonly InputImpedancePoint[];
  /** Where the filter comes nearest to the stage: its impedance over that of the stage, which should stay well below one. */
  readonly nearest: { readonly closed: Nearest; readonly driven?: Nearest; readonly nulled?: Nearest };
}

/** @public */
export interface Nearest {
  readonly frequency: number;
  readonly share: number;
}

/** No source impedance, protection, filter or capacitors before the switching cell. */
const NOTHING_BEFORE = {
  source: undefined,
  fuse: undefined,
  reversePolarity: undefined,
  inputFilter: undefined,
  inputCapacitors: [],
};
const ONE: Complex = { re: 1, im: 0 };

/**
 * Impedance of source, filter and input capacitors at the switching cell, ohm: a source behind one ohm looks into them, so that
 * neither a current is forced on inductances alone nor a voltage on capacitances.
 */
export function feedImpedance(complete: CompleteStage, inputVoltage: number): (frequency: number) => Complex {
  const elements = [
    ...inputSide(complete, inputVoltage),
    voltageSource('test', 'test', GROUND, 0),
    resistor('testResistor', 'test', 'in', 1),
  ];
  const voltage = linearResponse({ elements, couplings: [] }, 'test', 'in');
  return (frequency) => {
    const { re, im } = voltage(frequency);
    return ratio({ re, im }, { re: 1 - re, im: -im });
  };
}

/**
 * Impedance of what feeds a stage against that of the stage itself, to be laid over each other: where they come near, filter and
 * loop disturb each other.
 *
 * Z_N follows from the impedance with the loop closed, Z_D and the loop gain T: 1/Z = (T/Z_N + 1/Z_D)/(1 + T). Source: R. D.
 * Middlebrook, Input Filter Considerations in Design and Application of Switching Regulators, IEEE IAS 1976; Null Double Injection
 * and the Extra Element Theorem, IEEE Trans. Education 32 (1989).
 *
 * @returns the words for why there is nothing to compare.
 * @public
 */
export function inputImpedances(
  complete: CompleteStage,
  condition: OperatingCondition,
  frequencies: readonly number[],
): InputImpedances | string {
  const { stage } = complete;
  const { source, inputFilter } = stage.parts;
  if (!inputFilter && !source) return 'the stage has neither an input filter nor a source impedance';
  // The stage alone, at the terminals of its switching cell.
  const alone = completeStage({ ...stage, parts: { ...stage.parts, ...NOTHING_BEFORE } });
  if (!alone.ok) return 'the stage is not complete';
  const solved = solveStage(alone.value, condition);
  if (solved.kind === 'unsolved') return solved.reason;
  const loop = closeLoop(alone.value, condition, solved);
  if (loop.kind !== 'closed') return loop.reason;
  const response = new LoopResponse(loop.loop);
  const feed = feedImpedance(complete, condition.inputVoltage);
  const points = frequencies.map((frequency): InputImpedancePoint => {
    const filter = feed(frequency);
    const closed = ratio(ONE, response.inputAdmittance(frequency));
    const held = response.heldInputAdmittance(frequency);
    if (!held) return { frequency, filter, closed };
    const t = response.loop(frequency);
    const whole = product({ re: 1 + t.re, im: t.im }, ratio(ONE, closed));
    const nulled = ratio(t, { re: whole.re - held.re, im: whole.im - held.im });
    return { frequency, filter, closed, driven: ratio(ONE, held), nulled };
  });
  return nearestIn(points);
}

/**
 * The same stage behind another source, filter or input banks: of itself nothing is worked anew.
 */
export function behind({ points }: InputImpedances, complete: CompleteStage, inputVoltage: number): InputImpedances {
  const feed = feedImpedance(complete, inputVoltage);
  return nearestIn(points.map((point) => ({ ...point, filter: feed(point.frequency) })));
}

function nearestIn(points: readonly InputImpedancePoint[]): InputImpedances {
  const closed = nearestOf(points, 'closed');
  const driven = nearestOf(points, 'driven');
  const nulled = nearestOf(points, 'nulled');
  return {
    kind: 'solved',
    points,
    nearest: { closed: closed ?? { frequency: NaN, share: 0 }, ...(driven && { driven }), ...(nulled && { nulled }) },
  };
}

function nearestOf(points: readonly InputImpedancePoint[], to: 'closed' | 'driven' | 'nulled'): Nearest | undefined {
  let nearest: Nearest | undefined;
  for (const point of points) {
    const other = point[to];
    if (!other) continue;
    const share = magnitude(point.filter) / magnitude(other);
    if (share > (nearest?.share ?? 0)) nearest = { frequency: point.frequency, share };
  }
  return nearest;
}
