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
] as const;

export type Station = (typeof STATIONS)[number]['to'];

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
