/** The stations of a stage, in the order of the rail. */
export const STATIONS = [
  { to: 'overview', words: 'Overview' },
  { to: 'targets', words: 'Targets' },
  { to: 'stage', words: 'Stage' },
  { to: 'inductor', words: 'Inductor' },
  { to: 'capacitors', words: 'Capacitors' },
  { to: 'switches', words: 'Switches' },
  { to: 'efficiency', words: 'Efficiency' },
  { to: 'loop', words: 'Loop' },
  { to: 'transient', words: 'Transient' },
  { to: 'phases', words: 'Phases' },
  { to: 'winding', words: 'Winding' },
  { to: 'board', words: 'Board' },
  { to: 'bench', words: 'Bench' },
] as const;

/** Stations that a number key goes to. */
export const NUMBERED = 9;

export type Station = (typeof STATIONS)[number]['to'];

/** Whether a station stands in the rail: the one for phases where there are several, or where it was gone to. */
export const standsInRail = (station: Station, phases: number, pathname: string): boolean =>
  station !== 'phases' || phases > 1 || pathname.endsWith('/phases');

/** Where a target is decided: by the beginning of its name, the first that fits. */
const DECIDED_AT: readonly (readonly [RegExp, Station])[] = [
  [/^loadStep/, 'transient'],
  [/^(loopStability|phaseMargin|gainMargin|subharmonicMargin|outputVoltage)/, 'loop'],
  [/Ripple$|Capacitors?\d|CapacitorBank|[cC]apacitor/, 'capacitors'],
  [/^(inductor|saturation|currentLimit)/, 'inductor'],
  [/^efficiency/, 'efficiency'],
  [/Voltage|Junction|diode/, 'switches'],
];

/** The station whose fields decide a target. */
export const stationOf = (target: string): Station => DECIDED_AT.find(([named]) => named.test(target))?.[1] ?? 'stage';

/** Where a figure is shown that has no working of its own but a whole picture: by the key of the figure. */
const PICTURED: Readonly<
  Partial<Record<string, { readonly to: Station; readonly words: string; readonly mend: string }>>
> = {
  loop: {
    to: 'loop',
    words: 'look at the loop',
    mend: 'Another compensator would mend it: let one be proposed, or move its zeros and poles.',
  },
  transient: {
    to: 'transient',
    words: 'look at the simulation',
    mend: 'More output capacitance, a smaller inductance or a faster loop would mend it: the simulation shows which.',
  },
};

/** The station whose picture shows a figure; undefined where the figure has a working. */
export const picturedAt = (figure: string) => PICTURED[figure];
