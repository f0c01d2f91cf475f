import { diode, switchBetween, type Element } from '../circuit/elements.js';
import type { CompleteStage, Leg } from '../stage/completeStage.js';
import type { Mosfet } from '../stage/partsSchema.js';
import { BODY_DIODE_DEFAULT } from '../parts/bodyDiode.js';
import type { CellNodes } from '../topology/topology.js';
import type { Freewheel } from '../orbit/schedule.js';
import type { SwitchPosition } from './powerStage.js';

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
  /** What is closed while the leg is commanded on, and while it is commanded off. */
  readonly on: readonly string[];
  readonly off: readonly string[];
  /** The diodes that decide while neither is closed: all of the off time with a diode rectifier, else the dead time. */
  readonly freewheel: Freewheel;
  /** Whether the off time is left to a diode. */
  readonly diodeRectifier: boolean;
  readonly main: SwitchPosition;
  readonly rectifier: SwitchPosition;
}

/**
 * The devices of one leg in one phase. Body diodes are drawn where there is dead time for them to conduct in; a switch that
 * emulates a diode is drawn as one without a drop.
 */
export function switchCell(
  leg: Leg,
  phase: number,
  nodes: CellNodes,
  { stage, diodeEmulation, bodyDiodes }: CompleteStage,
): SwitchCell {
  const k = String(phase + 1);
  const main = `${leg.mainPlace}${k}`;
  const rectifier = `${leg.rectifierPlace}${k}`;
  const mainElement = switchBetween(main, ...nodes.main, leg.main.onResistance);
  if (leg.rectifier.kind === 'diode' || diodeEmulation) {
    const { forwardVoltage, dynamicResistance } =
      leg.rectifier.kind === 'diode'
        ? leg.rectifier.diode
        : { forwardVoltage: 0, dynamicResistance: leg.rectifier.mosfet.onResistance };
    return {
      elements: [mainElement, diode(rectifier, ...nodes.rectifier, forwardVoltage, dynamicResistance)],
      on: [main],
      off: [],
      freewheel: { forward: [rectifier], reverse: [] },
      diodeRectifier: true,
      main: { device: main },
      rectifier: { device: rectifier },
    };
  }
  const { mosfet } = leg.rectifier;
  const elements = [mainElement, switchBetween(rectifier, ...nodes.rectifier, mosfet.onResistance)];
  const forward = `${rectifier}Body`;
  const reverse = `${main}Body`;
  const bodies = stage.deadTime > 0 || bodyDiodes === true;
  if (bodies) {
    elements.push(
      bodyDiode(forward, ...nodes.rectifier, mosfet),
      bodyDiode(reverse, nodes.main[1], nodes.main[0], leg.main),
    );
  }
  return {
    elements,
    on: [main],
    off: [rectifier],
    freewheel: bodies ? { forward: [forward], reverse: [reverse] } : { forward: [], reverse: [] },
    diodeRectifier: false,
    main: bodies ? { device: main, bodyDiode: reverse } : { device: main },
    rectifier: bodies ? { device: rectifier, bodyDiode: forward } : { device: rectifier },
  };
}
