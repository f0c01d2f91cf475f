import { LOOP } from '../controller/loopNames.js';
import {
  capacitor,
  currentSource,
  diode,
  GROUND,
  inductor,
  resistor,
  switchBetween,
  type Element,
} from '../circuit/elements.js';
import type { LegTiming } from '../powerstage/legTiming.js';
import type { PowerStage } from '../powerstage/powerStage.js';
import { idleInputBanks, SOURCE_DIODE } from './oneWaySource.js';

/**
 * What is wrong with a board beyond the values of its parts: how the circuit that was designed is drawn otherwise. Devices are named
 * by their place, in the first phase.
 *
 * @public
 */
export type Defect =
  /** Its gate is not driven: the switch stays open, its body diode stays. */
  | { readonly kind: 'never-closes'; readonly place: string }
  /** Failed short, ohm. */
  | { readonly kind: 'shorted'; readonly place: string; readonly resistance: number }
  /** A diode mounted the wrong way round; the main switch then breaks down, V, where the choke leaves it no other way. */
  | { readonly kind: 'reversed'; readonly place: string; readonly breakdown: number }
  /** A high-side switch whose driver has no supply of its own: it follows, and drops the difference to its gate's supply, V. */
  | { readonly kind: 'follows'; readonly place: string; readonly drop: number }
  /** Inductance and capacitance of the switched loop, H and F, with the resistance in parallel that damps them, ohm. */
  | {
      readonly kind: 'rings';
      readonly inductance: number;
      readonly capacitance: number;
      readonly resistance: number;
    }
  /** The way from the output to the divider is open. */
  | { readonly kind: 'open-feedback' };

/** What a supply has at its terminals, common practice: it feeds the first instants of a short. */
const SUPPLY_CAPACITANCE = 47e-6;
const SUPPLY_ESR = 0.02;
/** Resistance of the supply's clamp, ohm. */
const SUPPLY_RESISTANCE = 0.005;
/** What rings with the capacitance of the switch node. */
export const RING_INDUCTANCE = 'ringInductance';
/** The capacitor at a supply's terminals. */
export const SUPPLY_CAPACITOR = 'supplyCapacitor';
/** The current source within a limiting supply. */
export const SUPPLY_CURRENT = 'supplyCurrent';
const SET = 'supplySet';

const inPhase = (place: string): string => `${place}1`;

/** A power stage with a defect in it. */
export function withDefect(powerStage: PowerStage, defect: Defect): PowerStage {
  const { circuit, legs } = powerStage;
  const swap = (
    elements: readonly Element[],
    timing: readonly (readonly LegTiming[])[] = legs,
    diodes: readonly Element[] = [],
  ): PowerStage => ({
    ...powerStage,
    circuit: { ...circuit, elements: [...elements, ...diodes] },
    legs: timing,
    phases: powerStage.phases.map((phase, k) =>
      k === 0 ? { ...phase, diodes: [...phase.diodes, ...diodes.map(({ name }) => name)] } : phase,
    ),
  });
  switch (defect.kind) {
    case 'never-closes': {
      const device = inPhase(defect.place);
      const without = (names: readonly string[]): readonly string[] => names.filter((name) => name !== device);
      return swap(
        circuit.elements,
        legs.map((phase) =>
          phase.map((leg) => ({ ...leg, cell: { ...leg.cell, on: without(leg.cell.on), off: without(leg.cell.off) } })),
        ),
      );
    }
    case 'shorted':
      return swap([
        ...circuit.elements,
        ...circuit.elements.flatMap((e) =>
          e.name === inPhase(defect.place) ? [resistor('shorted', e.a, e.b, defect.resistance)] : [],
        ),
      ]);
    case 'reversed':
      return swap(
        circuit.elements.map((e) => (e.name === inPhase(defect.place) ? { ...e, a: e.b, b: e.a } : e)),
        legs,
        // A diode that conducts from drain to source at the voltage of the breakdown.
        mainSwitches(powerStage).map((e) => diode('breakdown', e.a, e.b, defect.breakdown, BODY_RESISTANCE)),
      );
    case 'follows': {
      const device = inPhase(defect.place);
      const bodies = new Set(legs[0]?.flatMap(({ cell }) => [cell.main.bodyDiode]));
      const follower = circuit.elements.filter(({ name, kind }) => name === device && kind === 'switch');
      return swap(
        circuit.elements.flatMap((e) =>
          e.name === device && e.kind === 'switch'
            ? [
                switchBetween(device, 'followed', e.b, e.onResistance),
                // Where the switch is open nothing else says where this node stands.
                resistor('followedLeak', e.a, 'followed', LEAK),
              ]
            : [e],
        ),
        legs,
        follower.flatMap((e) => [
          diode('gateShortage', e.a, 'followed', defect.drop, BODY_RESISTANCE),
          ...([...bodies].every((name) => name === undefined)
            ? [diode('followerBody', e.b, e.a, BODY_VOLTAGE, BODY_RESISTANCE)]
            : []),
        ]),
      );
    }
    case 'rings': {
      const { switchNode } = powerStage;
      const inner = `${switchNode}Inner`;
      const { inductance, capacitance, resistance } = defect;
      // The switches and diodes stay at the inner node; the inductor and the probe see the outer one.
      return swap([
        ...circuit.elements.map((e) =>
          e.kind === 'switch' || e.kind === 'diode'
            ? { ...e, a: e.a === switchNode ? inner : e.a, b: e.b === switchNode ? inner : e.b }
            : e,
        ),
        inductor(RING_INDUCTANCE, inner, switchNode, inductance),
        resistor('ringResistance', inner, switchNode, resistance),
        capacitor('ringCapacitance', switchNode, GROUND, capacitance, RING_ESR),
      ]);
    }
    case 'open-feedback':
      // Done where the divider is drawn.
      return powerStage;
  }
}

/** The main switch of each leg of the first phase. */
const mainSwitches = ({ circuit, legs }: PowerStage): readonly Element[] => {
  const names = new Set(legs[0]?.map(({ cell }) => cell.main.device));
  return circuit.elements.filter(({ name }) => names.has(name)).slice(0, 1);
};

/** Of diodes that a designer does not draw: V and ohm. Common practice. */
const BODY_VOLTAGE = 0.8;
const BODY_RESISTANCE = 0.02;
/** ohm */
const LEAK = 1e6;

/** ohm, of the capacitance of a switch node. */
const RING_ESR = 0.1;

/**
 * The elements of a stage on a supply that limits its current: a current source whose surplus a diode hands to the voltage that was set.
 *
 * @param limit A.
 */
export const withSupplyLimit = (
  elements: readonly Element[],
  powerStage: Pick<PowerStage, 'circuit' | 'elements'>,
  limit: number,
): readonly Element[] => [
  ...elements.flatMap((e) =>
    e.name === powerStage.elements.source
      ? [
          { ...e, a: SET },
          diode(SOURCE_DIODE, e.a, SET, 0, SUPPLY_RESISTANCE),
          currentSource(SUPPLY_CURRENT, GROUND, e.a, limit),
          capacitor(SUPPLY_CAPACITOR, e.a, GROUND, SUPPLY_CAPACITANCE, SUPPLY_ESR),
        ]
      : [e],
  ),
  ...idleInputBanks(elements, powerStage),
];

/** ohm, of what is left of a way that is open. */
const OPEN = 1e9;

/** The controller's elements with the way from the output to the divider open. */
export const withOpenFeedback = (elements: readonly Element[]): readonly Element[] =>
  elements.map((e) => (e.name === LOOP.injection ? resistor(LOOP.injection, e.a, e.b, OPEN) : e));
