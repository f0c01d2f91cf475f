import type { EvaluatedStage } from '../corners/evaluate.js';
import type { PartOf } from '../library/libraryPart.js';
import { driveVoltage } from '../losses/switchTerms.js';
import { paralleledMosfet } from '../stage/paralleledMosfet.js';
import { formatQuantity } from '../quantity/engineering.js';
import { MOST_PARALLEL, VOLTAGE_MARGIN } from '../rules/rules.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { SwitchPlace } from '../topology/topology.js';
import type { Mosfet } from '../stage/partsSchema.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import { settledChannel } from '../thermal/junction.js';
import { JUNCTION_LIMIT } from '../thermal/room.js';
import { junctionToAmbient } from '../thermal/thermalPath.js';
import { switchDemand, switchLoss, type SwitchDemand, type SwitchLoss } from './switchDemand.js';

/** So many hours at a load. @public */
export interface ProfilePoint {
  readonly solved: SolvedPoint;
  /** Any unit: only their shares count. */
  readonly hours: number;
}

/** How a library MOSFET would do at a place of a stage. @public */
export interface SwitchCandidate {
  readonly part: PartOf<'mosfet'>;
  readonly fits: boolean;
  readonly reasons: readonly string[];
  /** Devices in parallel: as few as keep cool. */
  readonly count: number;
  /** Averaged over the profile, all phases, W: its own loss and what it costs the other device. */
  readonly loss: number;
  readonly conduction: number;
  /** °C at its worst corner; null is thermal runaway, undefined where its heat path is not known. */
  readonly junction: number | null | undefined;
  readonly price: number | undefined;
  /** Whether no other candidate has both less on-resistance and less gate charge. */
  readonly onFrontier: boolean;
}

/** What is asked of the ratings. @public */
export interface SwitchMargins {
  /** Rated voltage over the highest across it: room for ringing. */
  readonly voltage: number;
  /** °C */
  readonly junctionMax: number;
}

/** @public */
export const SWITCH_MARGINS: SwitchMargins = { voltage: VOLTAGE_MARGIN, junctionMax: JUNCTION_LIMIT };

interface Corner {
  readonly demand: SwitchDemand;
  readonly ambient: number;
}

const channelAt = (mosfet: Mosfet, at25: number, temperature: number): number =>
  at25 * (1 + (mosfet.onResistanceTemperatureCoefficient ?? 0) * (temperature - 25));

/** The on-resistance of a MOSFET at a junction temperature, °C; ohm. Without a coefficient it is as stated throughout. @public */
export const onResistanceAt = (mosfet: Mosfet, temperature: number): number =>
  channelAt(mosfet, mosfet.onResistance, temperature);

/** The junction of a MOSFET with its losses; undefined where its heat path is not known. */
function junctionOf(complete: CompleteStage, mosfet: Mosfet, { channel, fixed }: SwitchLoss, ambient: number) {
  const { parts, phases } = complete.stage;
  const thermal = junctionToAmbient(mosfet, parts.cooling);
  if (thermal === undefined) return undefined;
  const coefficient = mosfet.onResistanceTemperatureCoefficient ?? 0;
  return settledChannel({ channel: channel / phases, coefficient, fixed: fixed / phases }, thermal, ambient);
}

/**
 * Share by which a rise of temperature may come out higher when the engine works the part itself: its resistance moves the
 * currents a little, and near its limit a little more.
 */
const ESTIMATE_MARGIN = 0.05;

/** Highest junction temperature over the corners, on the safe side of the estimate. */
function worstJunction(complete: CompleteStage, mosfet: Mosfet, corners: readonly Corner[]): number | null | undefined {
  let worst: number | undefined;
  for (const corner of corners) {
    const loss = switchLoss(mosfet, corner.demand, complete.stage.control.gateDriver);
    const junction = junctionOf(complete, mosfet, loss, corner.ambient);
    if (!junction) return undefined;
    if (junction.kind === 'runaway') return null;
    const { temperature } = junction;
    worst = Math.max(worst ?? -Infinity, temperature + ESTIMATE_MARGIN * (temperature - corner.ambient));
  }
  return worst;
}

/**
 * Library MOSFETs for one place of a worked stage, those that fit first, least loss over a load profile first. Each is worked
 * on the waveforms of the present stage, which hardly depend on the switch; the engine works the one that is chosen.
 *
 * @param profile solved points of the stage and the hours at each.
 * @public
 */
export function selectSwitches(
  { complete, corners, evaluation }: EvaluatedStage,
  place: SwitchPlace,
  parts: readonly PartOf<'mosfet'>[],
  profile: readonly ProfilePoint[],
  margins: SwitchMargins = SWITCH_MARGINS,
): readonly SwitchCandidate[] {
  const { control } = complete.stage;
  const demandAt = (solved: SolvedPoint): SwitchDemand | undefined => switchDemand(complete, solved, place);
  const hot = corners.flatMap(({ corner, result }): readonly Corner[] => {
    const demand = result.kind === 'solved' ? demandAt(result) : undefined;
    return demand ? [{ demand, ambient: corner.temperature }] : [];
  });
  const hours = profile.reduce((sum, one) => sum + one.hours, 0);
  const weighed = profile.flatMap(({ solved, hours: own }) => {
    const demand = demandAt(solved);
    return demand ? [{ demand, share: own / hours }] : [];
  });
  const stress = (of: 'voltage' | 'peakCurrent' | 'rmsCurrent'): number =>
    Math.max(0, ...evaluation.operatingPoints.map((point) => point.switchStress[place]?.[of] ?? 0));
  const voltage = stress('voltage');
  const current = stress('rmsCurrent');
  const volts = (value: number): string => formatQuantity(value, 'V', 3);
  const ambient = Math.max(...hot.map((one) => one.ambient), -Infinity);

  const candidate = (part: PartOf<'mosfet'>): Omit<SwitchCandidate, 'onFrontier'> => {
    const reasons: string[] = [];
    const rated = part.drainSourceVoltageMax;
    if (rated === undefined) reasons.push('It states no rated voltage.');
    else if (rated < margins.voltage * voltage)
      reasons.push(
        `Its rated voltage of ${volts(rated)} is not ${String(margins.voltage)} times the ${volts(voltage)} across it.`,
      );
    const driver = control.gateDriver?.voltage;
    const needed = part.gateDriveVoltage;
    if (driver !== undefined && needed !== undefined && driver < needed)
      reasons.push(`It wants ${volts(needed)} at its gate; the driver gives ${volts(driver)}.`);
    if (driveVoltage(part, control.gateDriver) === undefined) reasons.push('It states no gate drive voltage.');
    let count = 1;
    let mosfet = paralleledMosfet(part);
    let junction = worstJunction(complete, mosfet, hot);
    while (count < MOST_PARALLEL && junction !== undefined && !(junction !== null && junction <= margins.junctionMax)) {
      count += 1;
      mosfet = paralleledMosfet({ ...part, count });
      junction = worstJunction(complete, mosfet, hot);
    }
    if (junction === null) reasons.push('It runs away thermally.');
    else if (junction !== undefined && junction > margins.junctionMax)
      reasons.push(
        `Its junction comes to ${formatQuantity(junction, 'degC', 3)}, above ${formatQuantity(margins.junctionMax, 'degC', 3)}, even ${String(count)} in parallel.`,
      );
    if (mosfet.drainCurrentMax !== undefined && mosfet.drainCurrentMax < current)
      reasons.push(
        `Its rated current of ${formatQuantity(mosfet.drainCurrentMax, 'A', 3)} is below the ${formatQuantity(current, 'A', 3)} RMS through it.`,
      );
    let loss = 0;
    let conduction = 0;
    for (const { demand, share } of weighed) {
      const lost = switchLoss(mosfet, demand, control.gateDriver);
      const { channel, fixed, gate, elsewhere } = lost;
      const settled = junctionOf(complete, mosfet, lost, ambient);
      const warm = settled?.kind === 'settled' ? channelAt(mosfet, channel, settled.temperature) : channel;
      conduction += share * warm;
      loss += share * (warm + fixed + gate + elsewhere);
    }
    return {
      part,
      fits: reasons.length === 0,
      reasons,
      count,
      loss,
      conduction,
      junction,
      price: part.price === undefined ? undefined : part.price * count,
    };
  };
  const found = parts.map(candidate);
  const beaten = (one: (typeof found)[number]): boolean =>
    found.some(
      (other) =>
        other.fits &&
        other.part.onResistance <= one.part.onResistance &&
        (other.part.gateCharge ?? Infinity) < (one.part.gateCharge ?? Infinity),
    );
  return found
    .map((one) => ({ ...one, onFrontier: one.fits && !beaten(one) }))
    .sort(
      (a, b) => Number(b.fits) - Number(a.fits) || a.loss - b.loss || (a.price ?? Infinity) - (b.price ?? Infinity),
    );
}
