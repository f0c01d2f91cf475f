/**
 * The vocabulary a power stage is drawn with. A circuit is a list of these between named nodes; node `0` is ground.
 * Currents count positive from `a` to `b` through the element, voltages from `a` to `b`.
 *
 * @public
 */
export type Element =
  | {
      readonly kind: 'resistor';
      readonly name: string;
      readonly a: string;
      readonly b: string;
      readonly resistance: number;
    }
  | {
      readonly kind: 'inductor';
      readonly name: string;
      readonly a: string;
      readonly b: string;
      readonly inductance: number;
      /** In series with the inductance. */
      readonly resistance: number;
    }
  | {
      readonly kind: 'capacitor';
      readonly name: string;
      readonly a: string;
      readonly b: string;
      readonly capacitance: number;
      readonly esr: number;
      readonly esl: number;
    }
  | {
      readonly kind: 'voltageSource';
      readonly name: string;
      readonly a: string;
      readonly b: string;
      readonly voltage: number;
    }
  /** The current flows from `a` to `b` through the source: a load between the output and ground draws it. */
  | {
      readonly kind: 'currentSource';
      readonly name: string;
      readonly a: string;
      readonly b: string;
      readonly current: number;
    }
  | {
      readonly kind: 'switch';
      readonly name: string;
      readonly a: string;
      readonly b: string;
      readonly onResistance: number;
    }
  /** Anode `a`, cathode `b`. */
  | {
      readonly kind: 'diode';
      readonly name: string;
      readonly a: string;
      readonly b: string;
      readonly forwardVoltage: number;
      readonly dynamicResistance: number;
    }
  /** Carries `transconductance` times the voltage from `plus` to `minus`. */
  | {
      readonly kind: 'transconductor';
      readonly name: string;
      readonly a: string;
      readonly b: string;
      readonly plus: string;
      readonly minus: string;
      readonly transconductance: number;
    }
  /** Holds `a` over `b` at `gain` times the current of an inductor, V/A. */
  | {
      readonly kind: 'currentSense';
      readonly name: string;
      readonly a: string;
      readonly b: string;
      readonly inductor: string;
      readonly gain: number;
    }
  /** Drives `a` against `b` so that `plus` and `minus`, which draw nothing, stand at one voltage. */
  | {
      readonly kind: 'idealAmplifier';
      readonly name: string;
      readonly a: string;
      readonly b: string;
      readonly plus: string;
      readonly minus: string;
    };

/** Two inductors on one core: mutual inductance `coefficient` √(L₁L₂), dots at the `a` ends; negative for opposed dots. */
export interface Coupling {
  readonly first: string;
  readonly second: string;
  readonly coefficient: number;
}

export interface Circuit {
  readonly elements: readonly Element[];
  readonly couplings: readonly Coupling[];
}

export const GROUND = '0';

export const resistor = (name: string, a: string, b: string, resistance: number): Element => ({
  kind: 'resistor',
  name,
  a,
  b,
  resistance,
});
export const inductor = (name: string, a: string, b: string, inductance: number, resistance = 0): Element => ({
  kind: 'inductor',
  name,
  a,
  b,
  inductance,
  resistance,
});
export const capacitor = (name: string, a: string, b: string, capacitance: number, esr = 0, esl = 0): Element => ({
  kind: 'capacitor',
  name,
  a,
  b,
  capacitance,
  esr,
  esl,
});
export const voltageSource = (name: string, a: string, b: string, voltage: number): Element => ({
  kind: 'voltageSource',
  name,
  a,
  b,
  voltage,
});
export const currentSource = (name: string, a: string, b: string, current: number): Element => ({
  kind: 'currentSource',
  name,
  a,
  b,
  current,
});
export const switchBetween = (name: string, a: string, b: string, onResistance: number): Element => ({
  kind: 'switch',
  name,
  a,
  b,
  onResistance,
});
export const diode = (name: string, a: string, b: string, forwardVoltage: number, dynamicResistance = 0): Element => ({
  kind: 'diode',
  name,
  a,
  b,
  forwardVoltage,
  dynamicResistance,
});

export const transconductor = (
  name: string,
  [a, b]: readonly [from: string, to: string],
  [plus, minus]: readonly [plus: string, minus: string],
  transconductance: number,
): Element => ({ kind: 'transconductor', name, a, b, plus, minus, transconductance });
export const currentSense = (name: string, output: string, inductor: string, gain: number): Element => ({
  kind: 'currentSense',
  name,
  a: output,
  b: GROUND,
  inductor,
  gain,
});
export const idealAmplifier = (
  name: string,
  output: string,
  [plus, minus]: readonly [plus: string, minus: string],
): Element => ({ kind: 'idealAmplifier', name, a: output, b: GROUND, plus, minus });

/** Diodes in the way of a current that keeps its direction: where nothing switches they conduct. */
export const diodesIn = (elements: readonly Element[]): readonly string[] =>
  elements.flatMap(({ kind, name }) => (kind === 'diode' ? [name] : []));

/** Whether an element drives the circuit: its value is put in after the equations are made. */
export const isSource = (e: Element): boolean => e.kind === 'voltageSource' || e.kind === 'currentSource';
