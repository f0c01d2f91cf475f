import { alternatingCopper, coreLossForm, heatedLoss, leakageLoss, supplyLoss } from '../firstcut/heatedForms.js';
import { COPPER } from '../parts/inductorLoss.js';
import { SWITCH_WORDS, type CompleteStage } from '../stage/completeStage.js';
import type { SwitchPlace } from '../topology/topology.js';
import type { Diode, Mosfet } from '../stage/partsSchema.js';
import { alternatingRms, extremes } from '../orbit/measures.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import { currentOf } from '../orbit/signal.js';
import { dot } from '../linalg/dense.js';
import { settledChannel, settledJunction, type Junction } from '../thermal/junction.js';
import { ROOM_TEMPERATURE } from '../thermal/room.js';
import { junctionToAmbient } from '../thermal/thermalPath.js';
import type { PowerStage } from '../powerstage/powerStage.js';
import { bearingsOf, type Bearing } from './bearing.js';
import { fluxLinkage } from '../parts/fluxLinkage.js';
import { piecesOf, shapeOverSine } from './waveformShape.js';
import { switchTerms, termOf, watts, type EdgeKind, type Term } from './switchTerms.js';

/** One line of the losses beyond what the circuit itself turns into heat, with the closed forms it is the sum of. */
export interface LossLine {
  /** Place under `losses` of the operating point. */
  readonly key: string;
  readonly quantity: string;
  readonly terms: readonly Term[];
  readonly watts: number;
}

/** How a switch or diode fares in the heat. */
export type DeviceHeat = Junction & {
  readonly place: SwitchPlace;
  /** Junction to ambient, K/W. */
  readonly thermal: number;
};

/** The losses of a stage that its circuit does not show, and the temperatures they make. */
export interface StageHeat {
  readonly lines: readonly LossLine[];
  readonly devices: readonly DeviceHeat[];
  /** What the records of the parts leave out, in words. */
  readonly unknown: readonly string[];
}

const EDGE_WORDS: Readonly<Record<EdgeKind, string>> = {
  TurnOn: 'turn-on loss',
  TurnOff: 'turn-off loss',
  OutputCharge: 'output charge loss',
  Recovery: 'recovery loss, of the other diode',
  Gate: 'gate drive loss',
};
const EDGE_KINDS = Object.keys(EDGE_WORDS) as readonly EdgeKind[];
/** Leakage doubles with this rise where a diode does not state it, K. Common practice. */
const LEAKAGE_DOUBLING = 10;
/** Rise of a winding at its heating current, K: what usual data sheets state it for. */
const HEATING_RISE = 40;

const total = (terms: readonly Term[]): number => terms.reduce((sum, term) => sum + watts(term), 0);

/** The voltage a diode blocks, averaged over the period, V. */
function averageBlocked({ segments, period }: PeriodicSolution, name: string): number {
  const sum = segments.reduce((total, { equations, integral }) => {
    if (equations.conducting.includes(name)) return total;
    const row = equations.voltage.get(name);
    return row ? total - Math.min(0, dot(row, integral)) : total;
  }, 0);
  return sum / period;
}

/**
 * Everything a stage loses beyond the conduction its circuit shows, from the same waveforms, with conduction at the
 * temperature each device settles at.
 *
 * @param circuitLosses the losses of the circuit by their keys, W: `highSideConduction`, `highSideBodyDiode` and so on.
 * @param ambient °C.
 */
export function stageHeat(
  complete: CompleteStage,
  powerStage: PowerStage,
  solution: PeriodicSolution,
  circuitLosses: Readonly<Record<string, number>>,
  ambient: number = ROOM_TEMPERATURE,
): StageHeat {
  const { stage, legs } = complete;
  const { control, parts, phases } = stage;
  const lines: LossLine[] = [];
  const devices: DeviceHeat[] = [];
  const unknown: string[] = [];
  const line = (key: string, quantity: string, terms: readonly Term[]): void => {
    if (terms.length > 0) lines.push({ key, quantity, terms, watts: total(terms) });
  };
  const bearings = new Map(bearingsOf(complete, powerStage, solution).map((one) => [one.place, one]));

  const heatMosfet = (
    place: SwitchPlace,
    mosfet: Mosfet,
    bearing: Bearing,
    opposite: Parameters<typeof switchTerms>[1],
  ) => {
    const words = SWITCH_WORDS[place];
    const edges = switchTerms(mosfet, opposite, bearing, control.gateDriver);
    unknown.push(...edges.unknown.map((what) => `${what} of the ${words}`));
    for (const kind of EDGE_KINDS)
      line(
        `${place}${kind}`,
        `${words} ${EDGE_WORDS[kind]}`,
        edges.terms.filter((term) => term.kind === kind),
      );
    const stated = circuitLosses[`${place}Conduction`] ?? 0;
    const coefficient = mosfet.onResistanceTemperatureCoefficient ?? 0;
    // What the gate takes is lost in the driver, not in the junction.
    const fixed = (circuitLosses[`${place}BodyDiode`] ?? 0) + total(edges.terms.filter(({ kind }) => kind !== 'Gate'));
    const thermal = junctionToAmbient(mosfet, parts.cooling);
    let temperature = ambient;
    if (thermal !== undefined) {
      const channel = { channel: stated / phases, coefficient, fixed: fixed / phases };
      const junction = settledChannel(channel, thermal, ambient);
      devices.push({ ...junction, place, thermal });
      temperature = junction.kind === 'settled' ? junction.temperature : junction.beyond;
    }
    if (coefficient !== 0)
      line(`${place}Conduction`, `${words} conduction loss`, [
        termOf(heatedLoss, { stated, coefficient, temperature }),
      ]);
  };

  const heatDiode = (place: SwitchPlace, diode: Diode): void => {
    const name = powerStage.elements.positions[place]?.[0]?.device ?? '';
    const conduction = circuitLosses[`${place}Conduction`] ?? 0;
    const { leakageCurrent: leakage } = diode;
    const values = {
      voltage: averageBlocked(solution, name),
      leakage: leakage ?? 0,
      doubling: diode.leakageDoubling ?? LEAKAGE_DOUBLING,
      devices: phases,
    };
    const leaking = (temperature: number): number => leakageLoss.compute({ ...values, temperature });
    const thermal = junctionToAmbient(diode, parts.cooling);
    let temperature = ambient;
    if (thermal !== undefined) {
      const junction = settledJunction((t) => (conduction + leaking(t)) / phases, thermal, ambient);
      devices.push({ ...junction, place, thermal });
      temperature = junction.kind === 'settled' ? junction.temperature : junction.beyond;
    }
    if (diode.recoveryCharge === undefined && diode.junctionCapacitance === undefined)
      unknown.push('recovery and capacitance of the rectifier diode');
    if (leakage !== undefined && leakage > 0)
      line(`${place}Leakage`, 'rectifier diode leakage loss', [termOf(leakageLoss, { ...values, temperature })]);
  };

  for (const { mainPlace, rectifierPlace, main, rectifier } of legs) {
    const mainBearing = bearings.get(mainPlace);
    if (mainBearing) heatMosfet(mainPlace, main, mainBearing, rectifier);
    const rectifierBearing = bearings.get(rectifierPlace);
    if (rectifier.kind === 'diode') heatDiode(rectifierPlace, rectifier.diode);
    else if (rectifierBearing)
      heatMosfet(rectifierPlace, rectifier.mosfet, rectifierBearing, { kind: 'switch', mosfet: main });
  }
  inductorLines(complete, powerStage, solution, circuitLosses, ambient).forEach((one) => line(...one));
  if (complete.inductor.coreLossCoefficient === undefined) unknown.push('core loss of the inductor');
  if (control.supplyCurrent === undefined) unknown.push('current the controller itself draws');
  else
    line('controllerSupply', 'supply of the controller', [
      termOf(supplyLoss, { voltage: averageInput(powerStage), current: supplyCurrent(complete, solution) }),
    ]);
  return { lines, devices, unknown };
}

function averageInput({ circuit, elements }: PowerStage): number {
  const source = circuit.elements.find((e) => e.name === elements.source);
  return source?.kind === 'voltageSource' ? source.voltage : 0;
}

/** Supply current averaged over running and sleeping: between pulses that come more slowly than the clock it sleeps. */
function supplyCurrent({ stage: { control }, clock }: CompleteStage, { period }: PeriodicSolution): number {
  const running = control.supplyCurrent ?? 0;
  const asleep = control.sleepCurrent ?? running;
  const share = Math.min(1, 1 / (period * clock));
  return asleep + (running - asleep) * share;
}

/** Copper at its temperature, the alternating part of its loss, and the core. */
function inductorLines(
  { inductor: part, stage: { phases } }: CompleteStage,
  { circuit, elements }: PowerStage,
  solution: PeriodicSolution,
  circuitLosses: Readonly<Record<string, number>>,
  ambient: number,
): readonly (readonly [string, string, readonly Term[]])[] {
  const name = elements.inductors[0] ?? '';
  const current = currentOf(name);
  const drawn = circuit.elements.find((e) => e.name === name);
  const found: (readonly [string, string, readonly Term[]])[] = [];
  const stated = circuitLosses['inductorCopper'] ?? 0;
  if (part.heatingCurrent !== undefined && part.resistance > 0) {
    const thermal = HEATING_RISE / (part.heatingCurrent ** 2 * part.resistance);
    const winding = settledJunction(
      (temperature) => heatedLoss.compute({ stated, coefficient: COPPER, temperature }) / phases,
      thermal,
      ambient,
    );
    const temperature = winding.kind === 'settled' ? winding.temperature : winding.beyond;
    found.push([
      'inductorCopper',
      'inductor copper loss',
      [termOf(heatedLoss, { stated, coefficient: COPPER, temperature })],
    ]);
  }
  if (part.alternatingResistance !== undefined)
    found.push([
      'inductorAlternating',
      'inductor copper loss of the alternating part',
      [
        termOf(alternatingCopper, {
          alternating: Math.max(part.alternatingResistance, part.resistance),
          direct: part.resistance,
          rms: alternatingRms(solution, current),
          devices: phases,
        }),
      ],
    ]);
  const { coreLossCoefficient: coefficient } = part;
  if (coefficient !== undefined && drawn?.kind === 'inductor') {
    const linkage = fluxLinkage(circuit, name);
    const swing = extremes(solution, linkage).peakToPeak;
    const frequencyExponent = part.coreLossFrequencyExponent ?? 1;
    if (swing > 0)
      found.push([
        'inductorCore',
        'inductor core loss',
        [
          termOf(coreLossForm, {
            coefficient,
            fSw: 1 / solution.period,
            frequencyExponent,
            swing,
            fluxExponent: part.coreLossFluxExponent ?? 2,
            shape: shapeOverSine(frequencyExponent, piecesOf(solution, linkage, swing)),
            devices: phases,
          }),
        ],
      ]);
  }
  return found;
}
