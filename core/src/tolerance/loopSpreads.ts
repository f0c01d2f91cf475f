import { USUAL_TOLERANCES } from '../controller/outputTolerance.js';
import { spreadsOf, type Spread } from '../corners/designValues.js';
import { pathKey, valueAt, type StagePath } from '../stage/place.js';
import type { Stage } from '../stage/schema.js';

/** Tolerances taken where a part, or the stage of what is about its controller, states none. Common practice; a data sheet states its own. @public */
export const DEFAULT_TOLERANCES = {
  inductor: 0.2,
  banks: { ceramic: 0.1, film: 0.05, polymer: 0.2, electrolytic: 0.2, tantalum: 0.2 },
  esr: 0.3,
  onResistance: 0.15,
  resistors: USUAL_TOLERANCES.resistors,
  capacitors: 0.05,
  controller: 0.1,
} as const;

const CONTROLLER = ['rampAmplitude', 'currentSenseGain', 'slopeCompensation', 'onTime'];
const AMPLIFIER = ['transconductance', 'outputResistance', 'openLoopGain', 'gainBandwidth'];
const NETWORKS: readonly StagePath[] = [
  ['control', 'compensator', 'components'],
  ['control', 'currentAmplifier'],
];
const RIPPLE = [
  ['resistance', 'resistors'],
  ['capacitance', 'capacitors'],
  ['coupling', 'capacitors'],
] as const;

/** How far every value that shapes the loop may lie from its stated one: stated tolerances first, else usual ones. @public */
export function loopSpreads(stage: Stage): readonly Spread[] {
  const { parts, control } = stage;
  const { resistors, capacitors, controller } = control.tolerances ?? {};
  const tolerances = {
    resistors: resistors ?? DEFAULT_TOLERANCES.resistors,
    capacitors: capacitors ?? DEFAULT_TOLERANCES.capacitors,
    controller: controller ?? DEFAULT_TOLERANCES.controller,
  };
  const stated = spreadsOf(stage);
  const known = new Set(stated.map(({ path }) => pathKey(path)));
  const spreads: Spread[] = [...stated];
  const add = (path: StagePath, tolerance: number, because: string): void => {
    const value = valueAt(stage, path);
    if (typeof value !== 'number' || value === 0 || tolerance === 0 || known.has(pathKey(path))) return;
    spreads.push({ path, low: 1 - tolerance, high: 1 + tolerance, because });
  };
  const usual = 'usual tolerance';
  // A stated tolerance of zero is one.
  if (parts.inductor?.tolerance === undefined)
    add(['parts', 'inductor', 'inductance'], DEFAULT_TOLERANCES.inductor, usual);
  (parts.outputCapacitors ?? []).forEach(({ kind, tolerance }, j) => {
    if (tolerance === undefined)
      add(['parts', 'outputCapacitors', j, 'capacitance'], DEFAULT_TOLERANCES.banks[kind], usual);
    add(['parts', 'outputCapacitors', j, 'esr'], DEFAULT_TOLERANCES.esr, usual);
  });
  for (const place of ['highSide', 'lowSide', 'outputHighSide', 'outputLowSide'])
    add(['parts', place, 'onResistance'], DEFAULT_TOLERANCES.onResistance, usual);
  const words = (key: keyof typeof tolerances): string =>
    control.tolerances?.[key] === undefined ? usual : 'stated tolerance';
  for (const network of NETWORKS) {
    const components = valueAt(stage, network);
    if (typeof components !== 'object' || components === null) continue;
    for (const key of Object.keys(components)) {
      const kind = key.startsWith('r') ? 'resistors' : 'capacitors';
      add([...network, key], tolerances[kind], words(kind));
    }
  }
  for (const [key, kind] of RIPPLE) add(['control', 'rippleInjection', key], tolerances[kind], words(kind));
  for (const key of CONTROLLER) add(['control', key], tolerances.controller, words('controller'));
  for (const key of AMPLIFIER)
    add(['control', 'compensator', 'amplifier', key], tolerances.controller, words('controller'));
  return spreads;
}
