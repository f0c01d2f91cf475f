import { bearingsOf, type Bearing } from '../losses/bearing.js';
import { switchTerms, watts, type Opposite } from '../losses/switchTerms.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { SwitchPlace } from '../topology/topology.js';
import type { Mosfet } from '../stage/partsSchema.js';
import { average, rms } from '../orbit/measures.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import { currentOf } from '../orbit/signal.js';

/** What a position of a stage asks of the MOSFET in it at one point: it hardly depends on which one it is. */
export interface SwitchDemand {
  readonly bearing: Bearing;
  /** RMS current of one phase's channel, A. */
  readonly rms: number;
  /** Average and RMS current of its body diode, A. */
  readonly bodyAverage: number;
  readonly bodyRms: number;
  /** The edges of the other position, whose turn-on pays for this one's charges; undefined where a diode is there. */
  readonly opposite: { readonly bearing: Bearing; readonly mosfet: Mosfet } | undefined;
  /** What the other position holds. */
  readonly other: Opposite;
}

/** What a stage asks of the MOSFET at a place, at a solved point; undefined where that place has none. */
export function switchDemand(
  complete: CompleteStage,
  { powerStage, solution }: SolvedPoint,
  place: SwitchPlace,
): SwitchDemand | undefined {
  const bearings = bearingsOf(complete, powerStage, solution);
  const bearing = bearings.find((one) => one.place === place);
  const leg = complete.legs.find(({ mainPlace, rectifierPlace }) => mainPlace === place || rectifierPlace === place);
  const position = powerStage.elements.positions[place]?.[0];
  if (!bearing || !leg || !position) return undefined;
  const isMain = leg.mainPlace === place;
  const other: Opposite = isMain ? leg.rectifier : { kind: 'switch', mosfet: leg.main };
  const oppositeBearing = bearings.find((one) => one.place === bearing.otherPlace);
  const body = position.bodyDiode === undefined ? undefined : currentOf(position.bodyDiode);
  return {
    bearing,
    rms: rms(solution, currentOf(position.device)),
    bodyAverage: body ? average(solution, body) : 0,
    bodyRms: body ? rms(solution, body) : 0,
    opposite:
      oppositeBearing && other.kind === 'switch' ? { bearing: oppositeBearing, mosfet: other.mosfet } : undefined,
    other,
  };
}

/** What a MOSFET would lose under a demand, all phases, W. */
export interface SwitchLoss {
  /** With the channel at 25 °C. */
  readonly channel: number;
  /** In the device, besides the channel. */
  readonly fixed: number;
  readonly gate: number;
  /** In the other device, for the sake of this one: its output charge and recovery. */
  readonly elsewhere: number;
}

/** Body diode taken where a record states none. Common practice for silicon at full current. */
const BODY_DROP = 0.8;
const BODY_RESISTANCE = 0.01;

/** The losses of a MOSFET under a demand, from the edges and currents of the waveforms. */
export function switchLoss(
  mosfet: Mosfet,
  { bearing, rms: channelRms, bodyAverage, bodyRms, opposite, other }: SwitchDemand,
  driver: Parameters<typeof switchTerms>[3],
): SwitchLoss {
  const { phases } = bearing;
  let fixed =
    phases *
    (bodyAverage * (mosfet.bodyDiodeVoltage ?? BODY_DROP) +
      bodyRms * bodyRms * (mosfet.bodyDiodeResistance ?? BODY_RESISTANCE));
  let gate = 0;
  for (const term of switchTerms(mosfet, other, bearing, driver).terms) {
    if (term.kind === 'Gate') gate += watts(term);
    else fixed += watts(term);
  }
  let elsewhere = 0;
  if (opposite)
    for (const term of switchTerms(opposite.mosfet, { kind: 'switch', mosfet }, opposite.bearing, driver).terms)
      if (term.kind === 'OutputCharge' || term.kind === 'Recovery') elsewhere += watts(term);
  return { channel: phases * channelRms * channelRms * mosfet.onResistance, fixed, gate, elsewhere };
}
