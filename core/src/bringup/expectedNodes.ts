import { asBuilt } from '../board/asBuilt.js';
import { boardRun, type BenchCondition } from '../board/boardRun.js';
import { boardFeatures, type BoardFeatures, type NodeFeatures } from '../faults/features.js';
import { scalesOf } from '../faults/rank.js';
import type { Instruments } from '../instruments/instruments.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { Unit } from '../quantity/unit.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { evenly } from '../transient/evenly.js';
import type { Waveforms } from '../transient/recorder.js';

/** What is to be seen at one place of a board. @public */
export interface ExpectedNode {
  readonly name: string;
  readonly unit: Unit;
  /** s, over two periods. */
  readonly time: Float64Array;
  readonly value: Float64Array;
  /** The least and the most of boards whose parts lie within their tolerances. */
  readonly least: Float64Array;
  readonly most: Float64Array;
  readonly reads: NodeFeatures;
  /** Of those boards, reading by reading. */
  readonly from: NodeFeatures;
  readonly to: NodeFeatures;
  /** How to look at it. */
  readonly probing: readonly string[];
}

/** Boards by which the band is drawn. */
const BOARDS = 16;
/** Periods that are shown, of those that were simulated, and points of each. */
const PERIODS = 2;
const POINTS = 240;
/** Their seed: the band is the same each time. */
const SEED = 4_321;

/** How to look at each kind of place: common practice. */
function probingOf(name: string, { oscilloscope }: Instruments, reads: NodeFeatures): readonly string[] {
  const band =
    oscilloscope &&
    `Oscilloscope of ${formatQuantity(oscilloscope.bandwidth, 'Hz', 2)}: edges below ${formatQuantity(0.35 / oscilloscope.bandwidth, 's', 2)} are its own.`;
  const height = formatQuantity(reads.peak - reads.valley, name.includes('current') ? 'A' : 'V', 2);
  if (name === 'output voltage')
    return [
      'Tip and ground spring across the output capacitor itself, not at the end of a wire.',
      `Alternating coupling, 20 MHz limit, about ${height} peak to peak; then the limit off: what comes besides is picked up.`,
    ];
  if (name === 'input voltage')
    return [
      'Across the input capacitor next to the switches, with a ground spring; 20 MHz limit for the ripple, full bandwidth for what rings.',
    ];
  if (name === 'switch node')
    return [
      'Full bandwidth, ground spring at the source of the lower device; a tip of ten to one at least.',
      ...(band ? [band] : []),
      'A ground lead shows a ring that is its own: see the edge beside.',
    ];
  if (name.startsWith('gate')) {
    return name.includes('highSide') || name.includes('outputHighSide')
      ? [
          'Against ground it rides on the switch node; against its own source only with a differential probe made for it.',
          'Never clip a ground lead to the switch node: it connects it to earth through the oscilloscope.',
        ]
      : [
          'Ground spring at the source of the same device; look for bumps while the switch node moves: they turn it on by themselves.',
        ];
  }
  if (name.startsWith('inductor current'))
    return [
      'A current probe on a short loop of wire at the quiet end of the choke, degaussed and set to nothing without current.',
      'Without one: a small resistor at the quiet end, across which a differential probe looks.',
    ];
  if (name === 'input current')
    return ['Between supply and input capacitor; what the switches draw in pulses does not show there.'];
  if (name === 'feedback')
    return [
      'A high impedance: a probe of ten to one and more loads it. Short tip, 20 MHz limit; it stands still at the reference.',
    ];
  return [];
}

/**
 * What is to be seen at each place of a board at a point: the waveform out of the switched simulator, and between what it lies for boards
 * within their tolerances.
 *
 * @param progress called with the share that is done; stops where it returns false.
 * @returns the words where the stage cannot be simulated there.
 * @public
 */
export function expectedNodes(
  complete: CompleteStage,
  condition: BenchCondition,
  instruments: Instruments,
  progress: (share: number) => boolean = () => true,
): readonly ExpectedNode[] | string {
  const scales = scalesOf(complete);
  const stated = boardRun(complete, condition);
  if (typeof stated === 'string') return stated;
  const { period, waveforms } = stated;
  const shown = (PERIODS * period) / stated.duration;
  const sampled = (values: Float64Array, time: Float64Array): Float64Array =>
    evenly(time, values, Math.round((PERIODS * POINTS) / shown)).slice(0, PERIODS * POINTS);
  const others: { readonly waveforms: Waveforms; readonly reads: BoardFeatures }[] = [];
  for (let k = 0; k < BOARDS; k += 1) {
    if (!progress(k / BOARDS)) return 'stopped';
    const run = boardRun(asBuilt(complete, SEED, k), condition);
    if (typeof run !== 'string')
      others.push({ waveforms: run.waveforms, reads: boardFeatures(run.waveforms, run.period, scales) });
  }
  const reads = boardFeatures(waveforms, period, scales);
  return waveforms.signals.flatMap(({ name, unit, least }): readonly ExpectedNode[] => {
    const own = reads[name];
    if (!own) return [];
    const value = sampled(least, waveforms.time);
    const low = value.slice();
    const high = value.slice();
    for (const other of others) {
      const signal = other.waveforms.signals.find((one) => one.name === name);
      sampled(signal?.least ?? least, other.waveforms.time).forEach((one, i) => {
        low[i] = Math.min(low[i] as number, one);
        high[i] = Math.max(high[i] as number, one);
      });
    }
    const bound = (pick: (...values: number[]) => number): NodeFeatures =>
      Object.fromEntries(
        (Object.entries(own) as readonly [keyof NodeFeatures, number][]).map(([reading, at]) => [
          reading,
          pick(at, ...others.map((other): number => other.reads[name]?.[reading] ?? at)),
        ]),
      ) as unknown as NodeFeatures;
    return [
      {
        name,
        unit,
        time: value.map((_, i) => (i * period) / POINTS),
        value,
        least: low,
        most: high,
        reads: own,
        from: bound(Math.min),
        to: bound(Math.max),
        probing: probingOf(name, instruments, own),
      },
    ];
  });
}
