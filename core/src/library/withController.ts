import { nearestPreferred } from '../quantity/preferredValues.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { Stage } from '../stage/schema.js';
import { currentLimitFor } from '../rules/currentLimit.js';
import { controllerDuty } from './controllerDuty.js';
import type { PartOf } from './libraryPart.js';

type Amplifier = NonNullable<Stage['control']['compensator']>['amplifier'];

/** The amplifier of a controller as the stage file has it; undefined where it is not to be wired from outside. */
function amplifierOf(record: PartOf<'controller'>): Amplifier | undefined {
  const { outputMin, outputMax, gainBandwidth, transconductance, outputResistance } = record;
  const clamps = { ...(outputMin !== undefined && { outputMin }), ...(outputMax !== undefined && { outputMax }) };
  if (record.amplifier === 'op-amp') return { kind: 'op-amp', ...(gainBandwidth && { gainBandwidth }), ...clamps };
  if (record.amplifier === 'ota' && transconductance !== undefined && outputResistance !== undefined)
    return { kind: 'ota', transconductance, outputResistance, ...clamps };
  return undefined;
}

/** The current limit, sense resistor and gain that a controller makes of the highest peak current of a phase, A. */
function limited(
  record: PartOf<'controller'>,
  control: Stage['control'],
  peak: number | undefined,
): Partial<Stage['control']> {
  const { limitVoltage, limitTolerance = 0, senseGain } = record;
  if (limitVoltage === undefined || senseGain === undefined) return {};
  // R = V / I_lim
  const wanted = peak === undefined ? undefined : limitVoltage / currentLimitFor(peak, limitTolerance);
  const senseResistance =
    control.senseResistance ?? (wanted === undefined ? undefined : nearestPreferred(wanted, 'E24'));
  if (senseResistance === undefined) return {};
  return {
    senseResistance,
    currentLimit: control.currentLimit ?? Number((limitVoltage / senseResistance).toPrecision(4)),
    currentSenseGain: control.currentSenseGain ?? Number((senseGain * senseResistance).toPrecision(4)),
  };
}

/**
 * A stage with what a controller fixes: scheme, reference, ramp or gain, amplifier with its clamps, limits of time and duty ratio,
 * drivers, supply. What the stage states itself where the controller leaves it free (soft start, limit, sense resistor, dead time) stays.
 *
 * @param known the highest current of one phase, A, for the sense resistor; and the highest switching frequency, Hz, where the stage has
 *   none yet, for the highest duty ratio.
 * @public
 */
export function withController(
  stage: Stage,
  record: PartOf<'controller'>,
  known: { readonly peak?: number | undefined; readonly frequency?: number | undefined } = {},
): Stage {
  const { control, switchingFrequency, targets } = stage;
  const amplifier = amplifierOf(record);
  const stated = control.compensator;
  const frequency = switchingFrequency ?? known.frequency ?? targets.switchingFrequency?.max;
  const dutyMax = frequency === undefined ? 1 : controllerDuty(record, stage, frequency);
  const ramp =
    record.rampAmplitude ?? (record.rampRatio === undefined ? undefined : nominalInput(stage) / record.rampRatio);
  return {
    ...stage,
    deadTime: stage.deadTime > 0 || stage.rectifier === 'diode' ? stage.deadTime : (record.deadTime ?? 0),
    control: {
      ...control,
      controller: record.name,
      scheme: record.scheme,
      reference: record.reference,
      referenceTolerance: record.referenceTolerance,
      minimumOnTime: record.minimumOnTime,
      ...(record.scheme === 'constant-on-time' && { minimumOffTime: record.minimumOffTime }),
      dutyMax: Number(Math.min(control.dutyMax, dutyMax).toPrecision(4)),
      ...(ramp !== undefined && { rampAmplitude: Number(ramp.toPrecision(4)) }),
      ...limited(record, control, known.peak),
      gateDriver: {
        ...control.gateDriver,
        voltage: record.gateDriveVoltage,
        turnOnResistance: record.turnOnResistance,
        turnOffResistance: record.turnOffResistance,
      },
      tolerances: {
        ...control.tolerances,
        ...(record.loopTolerance !== undefined && { controller: record.loopTolerance }),
      },
      supplyCurrent: record.supplyCurrent,
      ...(record.sleepCurrent !== undefined && { sleepCurrent: record.sleepCurrent }),
      ...(record.softStartTime !== undefined && { softStartTime: control.softStartTime ?? record.softStartTime }),
      ...(amplifier && {
        compensator: {
          network: stated?.network ?? (record.scheme.startsWith('voltage-mode') ? 'type-3' : 'type-2'),
          amplifier,
          components: stated?.components ?? {},
        },
      }),
    },
  };
}
