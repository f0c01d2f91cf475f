import type { OperatingCondition } from '../powerstage/powerStage.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { simulate } from '../transient/simulate.js';
import type { Waveforms } from '../transient/recorder.js';
import type { Defect } from '../transient/defect.js';

/** A board on the table: its stage as it is, and what is drawn otherwise. */
export interface Board {
  readonly stage: Stage;
  readonly defect?: Defect;
}

/** How a board is looked at: the supply's setting and its limit, where it has one; the load as a resistance. @public */
export interface BenchCondition {
  readonly inputVoltage: number;
  /** A */
  readonly supplyLimit?: number;
  readonly loadResistance: number;
}

/** What a board does once it stands: the waveforms at the places that a probe reaches. @public */
export interface BoardRun {
  readonly kind: 'run';
  readonly waveforms: Waveforms;
  /** s: clock periods that are shown. */
  readonly duration: number;
  readonly period: number;
}

/** The duty ratio at which the healthy stage stands. */
function dutyOf(complete: CompleteStage, condition: OperatingCondition): number {
  const found = operatingPoint(complete, condition);
  return found.kind === 'solved' ? found.point.duty : 0;
}

/** Clock periods a board is given until its picture stands, where it still regulates; and where all that it holds must run down. */
const SETTLING = 300;
const RUNNING_DOWN = 900;
/** Ringing changes nothing of where the stage stands, and is finely stepped. */
const SETTLING_RINGING = 40;
const settlingOf = (defect: Defect | undefined): number =>
  defect === undefined || defect.kind === 'never-closes'
    ? SETTLING
    : defect.kind === 'rings'
      ? SETTLING_RINGING
      : RUNNING_DOWN;

/** Clock periods that are looked at where nothing is said: an even number, since of a subharmonic two make one. */
const SHOWN = 6;
/** Of a run, what no probe reaches or what is the load's own. */
const UNPROBED = new Set(['control voltage', 'load current']);

/**
 * The waveforms of a board once it stands: the switched simulation of its stage as it is.
 *
 * @param cycles clock periods that are shown.
 * @returns the words where the board cannot be simulated.
 * @public
 */
export function boardRun(
  { stage, defect }: Board,
  { inputVoltage, supplyLimit, loadResistance }: BenchCondition,
  { cycles = SHOWN, settling = settlingOf(defect) }: { readonly cycles?: number; readonly settling?: number } = {},
): BoardRun | string {
  const made = completeStage(withUsualClamps(stage));
  if (!made.ok) return 'the stage is not complete';
  const condition: OperatingCondition = { inputVoltage, load: { kind: 'resistance', resistance: loadResistance } };
  const open = stage.control.scheme === 'open-loop' || stage.control.compensator === undefined;
  const result = simulate(
    made.value,
    condition,
    {
      start: 'settled',
      happenings: [],
      cycles,
      defect,
      supplyLimit,
      probed: true,
      ...(open && { fixedDuty: dutyOf(made.value, condition) }),
    },
    { settling },
  );
  if (result.kind !== 'run') return result.reason;
  const { time, signals } = result.waveforms;
  const period = 1 / made.value.clock;
  return {
    kind: 'run',
    waveforms: { time, signals: signals.filter(({ name }) => !UNPROBED.has(name)) },
    duration: cycles * period,
    period,
  };
}

/** V, between which an error amplifier stays on a controller's supply where nothing is stated. Common practice. */
const USUAL_CLAMPS = { outputMin: 0, outputMax: 5 };

/** A stage whose amplifier has limits: one without would run to kilovolts where a fault opens the loop. */
function withUsualClamps(stage: Stage): Stage {
  const { compensator, rampAmplitude = 0 } = stage.control;
  if (!compensator) return stage;
  const most = Math.max(USUAL_CLAMPS.outputMax, 1.2 * rampAmplitude);
  const amplifier = { ...USUAL_CLAMPS, outputMax: most, ...compensator.amplifier };
  return { ...stage, control: { ...stage.control, compensator: { ...compensator, amplifier } } };
}
