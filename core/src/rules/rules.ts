/** Rules of thumb by which `size` fills what is not given. Each is common practice; the effect of changing it is named. */

/**
 * Ripple ratio taken where the targets name none: 30 to 40 % of full load is the habit with peak current mode and voltage
 * mode, 30 to 50 % with constant on-time, whose comparator lives on the ripple. More: a smaller inductor, more peak and RMS.
 */
const RIPPLE_RATIO = 0.35;
const RIPPLE_RATIO_CONSTANT_ON_TIME = 0.4;
export const rippleRatioFor = (scheme: string): number =>
  scheme === 'constant-on-time' ? RIPPLE_RATIO_CONSTANT_ON_TIME : RIPPLE_RATIO;
/** Switching frequency taken where neither it nor a range is given, Hz. Higher: smaller inductor, more switching loss. */
export const SWITCHING_FREQUENCY = 400e3;
/** Output ripple taken where the targets name none, as a share of the output voltage. */
export const OUTPUT_RIPPLE_SHARE = 0.01;
/** Input ripple taken where the targets name none, as a share of the lowest input voltage. */
export const INPUT_RIPPLE_SHARE = 0.02;
/** Saturation and heating current of the inductor over full load: "a DC rating at least 35 % over full load". */
export const INDUCTOR_CURRENT_MARGIN = 1.35;
/** Share of the output power each of inductor, high side and low side may turn into conduction heat at full load. */
export const CONDUCTION_SHARE = 0.005;
/** Voltage rating of switches and capacitors over the highest voltage they see, for ringing and bias loss. */
export const VOLTAGE_MARGIN = 1.25;
/** Drain-source voltage classes that are made, V. */
export const DRAIN_VOLTAGE_CLASSES = [
  20, 25, 30, 40, 60, 80, 100, 150, 200, 250, 300, 400, 500, 600, 650, 800, 900, 1000, 1200, 1700,
] as const;
/** Forward voltage of a Schottky diode at full current, V, and the rating up to which one is taken. */
export const SCHOTTKY_VOLTAGE = 0.45;
export const SCHOTTKY_LIMIT = 100;
/** Forward voltage of a junction diode at full current, V. */
export const JUNCTION_VOLTAGE = 0.85;
/** Rise of the forward voltage from small to full current, V. */
export const DIODE_RESISTIVE_DROP = 0.1;
/** Ceramic capacitor voltage classes that are made, V. */
export const CERAMIC_VOLTAGE_CLASSES = [6.3, 10, 16, 25, 35, 50, 100, 200, 250, 500, 630, 1000, 2000] as const;
/** A middling ceramic part, one of which is put in parallel as often as needed. */
export const CERAMIC_ESR = 3e-3;
export const CERAMIC_ESL = 0.5e-9;
/** Capacitance a class 2 ceramic of good size keeps at half and at all of its rated voltage. */
export const CERAMIC_BIAS = [
  [0, 1],
  [0.5, 0.6],
  [1, 0.25],
] as const;
/** The corner of an input filter lies this far below the switching frequency. Farther: more attenuation, a larger choke. */
export const FILTER_CORNER_BELOW = 10;
/** Peak output impedance of the filter over the incremental input resistance of the stage, well below one for stability. */
export const FILTER_IMPEDANCE_SHARE = 0.3;
/** Saturation current of a chosen inductor over the highest peak: room for the current limit and for load steps. */
export const SATURATION_MARGIN = 1.2;
/** Rated over applied voltage, by kind. Tantalum may burn at a surge: twice is the usual caution. */
export const CAPACITOR_DERATING = { ceramic: 1.25, polymer: 1.1, electrolytic: 1.2, film: 1.1, tantalum: 2 } as const;
/** Most parts in parallel that a selection offers. */
export const MOST_OFFERED = 24;
/** The crossover of the loop is assumed this far below the switching frequency until the loop is designed. */
export const CROSSOVER_BELOW = 10;
/** Time in which a switch is taken to step a current until the switches are chosen, s. Shorter: higher spikes. */
export const EDGE_TIME = 10e-9;
/** Most capacitors put in parallel before a larger part is taken. */
export const MOST_IN_PARALLEL = 12;
/** Where enlarging a bank ends: a ripple that this many parts do not quiet is not one of too little capacitance. */
export const MOST_EVER = 200;

/** The lowest class that is at least `voltage`; the voltage itself above the highest class. */
export function voltageClass(voltage: number, classes: readonly number[]): number {
  return classes.find((one) => one >= voltage) ?? voltage;
}
/** A switch whose leg rests over the whole input range is sized as if it conducted for this share of the period. */
export const LEAST_CONDUCTING = 0.1;
/** Devices side by side that are considered at most: more share their current badly. Common practice. */
export const MOST_PARALLEL = 4;
/** A larger bank that leaves more than this share of the ripple has not helped: what is left is no matter of capacitance. */
export const LEAST_GAIN = 0.97;
