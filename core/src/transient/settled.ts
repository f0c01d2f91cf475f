import { restOf } from '../controller/atRest.js';
import { comparatorAt } from '../controller/modulator.js';
import { stateLayout } from '../circuit/stateLayout.js';
import { zeros } from '../linalg/zeros.js';
import { fraction } from '../orbit/schedule.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { closeLoop } from '../smallsignal/closedLoop.js';
import { RING_INDUCTANCE, SUPPLY_CAPACITOR } from './defect.js';
import { startFrom } from '../smallsignal/drawnIn.js';
import { solveCircuit } from '../steady/solveCircuit.js';
import type { RunStart } from './run.js';
import type { Scenario } from './scenario.js';
import { sourceValue, type SimulatedStage } from './simulatedStage.js';

/** Where a run starts that is to begin from the settled stage. */
export interface SettledStart {
  readonly start: Pick<RunStart, 'x' | 'running' | 'atWork'>;
  /** s, of each pulse, where a comparator turns it on. */
  readonly onTime: number;
  /** Whether the start is an orbit of the closed loop, or only a state near one. */
  readonly exact: boolean;
}

/** Whether each phase is in its pulse as the clock of phase 1 comes. */
const runningAt = (phases: number, dutyOf: (k: number) => number, period: number): NonNullable<RunStart['running']> =>
  Array.from({ length: phases }, (_, k) => {
    const since = fraction(-k / phases);
    return { on: since < dutyOf(k), sinceClock: since * period };
  });

/** Every state at zero, the output capacitors at their pre-bias; the input up where the source cannot sink. */
export function zeroStart(
  { circuits, complete, powerStage, sign, order }: SimulatedStage,
  { oneWaySource = false }: Pick<Scenario, 'oneWaySource'>,
): SettledStart {
  const x = zeros(order).slice();
  const { preBias = 0, onTime } = complete.stage.control;
  const outputs = new Set([
    ...powerStage.elements.outputBanks,
    ...circuits.free.elements.flatMap(({ name }) => (name.startsWith('outputFilterCapacitor') ? [name] : [])),
  ]);
  const inputs = new Set(oneWaySource ? powerStage.elements.inputBanks : []);
  for (const [name, index] of stateLayout(circuits.free).indexOfCapacitor) {
    if (outputs.has(name)) x[index] = sign * preBias;
    if (inputs.has(name)) x[index] = sourceValue(circuits.free, powerStage.elements.source);
  }
  // Where no on-time is stated it is that of the loss-free stage at its clock.
  const lasts = onTime > 0 ? onTime : powerStage.idealDuty / complete.clock;
  return { start: { x, atWork: false }, onTime: lasts, exact: true };
}

/** The steady state of the closed loop where it is found, or a state near it; the words where the stage has none. */
export function settledStart(
  drawn: SimulatedStage,
  condition: OperatingCondition,
  fixedDuty: number | undefined,
): SettledStart | string {
  const { complete, circuits, powerStage, controller, phases } = drawn;
  const solved = solveCircuit(complete, condition, { fixedDuty });
  if (solved.kind === 'unsolved') return solved.reason;
  const { solution } = solved;
  const first = solution.segments[0]?.initial.slice(0, -1) ?? zeros(0);
  const onTime = complete.stage.control.onTime > 0 ? complete.stage.control.onTime : solution.duty * solution.period;
  // What rings between switches and inductor carries the inductor's current; a supply stands at its voltage.
  const within = stateLayout(solved.powerStage.circuit).indexOfInductor.get(phases[0]?.inductor ?? '');
  const beside: readonly (readonly [string, number])[] = [
    [RING_INDUCTANCE, first[within ?? 0] ?? 0],
    [SUPPLY_CAPACITOR, condition.inputVoltage],
    // Those that a stiff source leaves idle are not in the orbit.
    ...solved.powerStage.elements.inputBanks.map((name) => [name, condition.inputVoltage] as const),
  ];
  const from = (rest: ReadonlyMap<string, number>, exact: boolean): SettledStart => ({
    start: {
      x: startFrom(circuits.free, solved.powerStage.circuit, first, new Map([...rest, ...beside])),
      running: runningAt(phases.length, () => solution.duty, solution.period),
      atWork: true,
    },
    onTime,
    exact,
  });
  if (!controller) return from(new Map(), true);
  const closed = closeLoop(complete, condition, solved);
  if (closed.kind === 'closed') {
    const { pass, duties, period, problem } = closed.loop;
    return {
      start: {
        x: startFrom(circuits.free, problem.circuit, pass.x, new Map(beside)),
        running: runningAt(phases.length, (k) => duties[k % duties.length] ?? solution.duty, period),
        atWork: true,
      },
      onTime,
      exact: true,
    };
  }
  if (closed.kind === 'incomplete') return closed.reason;
  const comparator = comparatorAt(controller.modulator, condition.inputVoltage);
  return from(restOf(complete, comparator, { powerStage, solution }).states, false);
}
