import { diode, switchBetween, type Element } from '../circuit/elements.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Mosfet } from '../stage/partsSchema.js';
import { at, type Interval } from '../steady/schedule.js';
import type { SwitchPosition } from './powerStage.js';

/** Body diode taken where a MOSFET record names none. Common practice for silicon at full current. */
export const BODY_DIODE_DEFAULT = { forwardVoltage: 0.8, dynamicResistance: 0.01 } as const;

const bodyDiode = (name: string, a: string, b: string, mosfet: Mosfet): Element =>
  diode(
    name,
    a,
    b,
    mosfet.bodyDiodeVoltage ?? BODY_DIODE_DEFAULT.forwardVoltage,
    mosfet.bodyDiodeResistance ?? BODY_DIODE_DEFAULT.dynamicResistance,
  );

/** A half bridge: a main switch and what carries the current while it is off. */
export interface SwitchCell {
  readonly elements: readonly Element[];
  readonly intervals: readonly Interval[];
  readonly main: SwitchPosition;
  readonly rectifier: SwitchPosition;
}

/** The nodes a cell stands between, each device drawn in the direction in which it carries the inductor current. */
export interface CellNodes {
  readonly mainFrom: string;
  readonly mainTo: string;
  readonly rectifierFrom: string;
  readonly rectifierTo: string;
}

/**
 * The switch cell of one phase and its timing. Duty counts from the command: with dead time each turn-on waits for it, so
 * the main switch conducts for D·T − t_dead and the body diodes carry the current in both gaps.
 */
export function switchCell(complete: CompleteStage, phase: number, nodes: CellNodes): SwitchCell {
  const { mainSwitch, rectifier, stage, switchingFrequency } = complete;
  const k = String(phase + 1);
  const main = `highSide${k}`;
  const low = `lowSide${k}`;
  const dead = stage.deadTime * switchingFrequency;
  const mainElement = switchBetween(main, nodes.mainFrom, nodes.mainTo, mainSwitch.onResistance);
  if (rectifier.kind === 'diode') {
    const { forwardVoltage, dynamicResistance } = rectifier.diode;
    return {
      elements: [mainElement, diode(low, nodes.rectifierFrom, nodes.rectifierTo, forwardVoltage, dynamicResistance)],
      intervals: [
        { start: at(0), closed: [main] },
        { start: at(0, 1), closed: [], freewheel: { forward: [low], reverse: [] } },
      ],
      main: { device: main },
      rectifier: { device: low },
    };
  }
  const elements = [
    mainElement,
    switchBetween(low, nodes.rectifierFrom, nodes.rectifierTo, rectifier.mosfet.onResistance),
  ];
  if (dead === 0) {
    return {
      elements,
      intervals: [
        { start: at(0), closed: [main] },
        { start: at(0, 1), closed: [low] },
      ],
      main: { device: main },
      rectifier: { device: low },
    };
  }
  const forward = `${low}Body`;
  const reverse = `${main}Body`;
  const freewheel = { forward: [forward], reverse: [reverse] };
  return {
    elements: [
      ...elements,
      bodyDiode(forward, nodes.rectifierFrom, nodes.rectifierTo, rectifier.mosfet),
      bodyDiode(reverse, nodes.mainTo, nodes.mainFrom, mainSwitch),
    ],
    intervals: [
      { start: at(0), closed: [], freewheel },
      { start: at(dead), closed: [main] },
      { start: at(0, 1), closed: [], freewheel },
      { start: at(dead, 1), closed: [low] },
    ],
    main: { device: main, bodyDiode: reverse },
    rectifier: { device: low, bodyDiode: forward },
  };
}
