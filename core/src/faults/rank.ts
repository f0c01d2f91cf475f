import { asBuilt, lowestBoard } from '../board/asBuilt.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { boardRun, type BenchCondition } from '../board/boardRun.js';
import { boardFeatures, type BoardFeatures, type NodeFeatures } from './features.js';
import { FAULTS, type Fault } from './faults.js';

/** The name under which a board without a fault is ranked. @public */
export const HEALTHY = 'none';

/** What boards with one fault look like, from mild to bad: what lies between two neighbours looks like what lies between them. */
export interface FaultPicture {
  readonly key: string;
  readonly branches: readonly (readonly BoardFeatures[])[];
}

/** What a stage looks like with each fault it can have, and how far boards without one differ. @public */
export interface FaultAtlas {
  readonly pictures: readonly FaultPicture[];
  /** Faults the stage cannot have, and why. */
  readonly barred: readonly { readonly key: string; readonly because: string }[];
  /** Faults whose picture the simulator could not work, in its words. */
  readonly failed: readonly { readonly key: string; readonly because: string }[];
  /** Standard deviation of each reading between boards whose parts lie within their tolerances. */
  readonly spread: BoardFeatures;
  readonly scales: { readonly voltage: number; readonly current: number };
}

/** A fault and how well it explains what was seen. @public */
export interface Ranked {
  readonly key: string;
  /** Root mean square difference of what was seen from what the fault makes, in standard deviations. */
  readonly distance: number;
  /** The largest difference, in standard deviations, and where it is. */
  readonly worst: { readonly node: string; readonly reading: keyof NodeFeatures; readonly deviations: number };
  /** Whether nothing that was seen speaks against it. */
  readonly possible: boolean;
}

/** What the readings say. @public */
export interface Diagnosis {
  /** From the likeliest on. */
  readonly ranked: readonly Ranked[];
  /** The faults that cannot be told from the first by what was seen; empty where it stands alone. */
  readonly alike: readonly string[];
  readonly answer: 'found' | 'cannot tell' | 'nothing fits';
}

/** Boards without a fault whose parts are scattered, to see how far they differ. */
const SCATTERED = 6;
/** Largest difference, in standard deviations, of a picture that is still taken for possible: common practice has three, and more for the largest of some sixty. */
const POSSIBLE = 4.5;
/** Beyond which one reading counts no more: wrong is wrong. */
const MOST = 12;
/** Errors that any comparison allows for: of a level against ground, and of what is looked at by itself, alternating; shares and floors over the scale. Common practice. */
const LEVEL = { gain: 0.01, floor: 0.004 };
const ALTERNATING = { gain: 0.04, floor: 0.0003 };
/** Pulses that alternate do so now more, now less: the heights that go with it are a rough figure. */
const ALTERNATES = 0.03;
const ROUGH = 0.2;
/** Of pulses per period, of the bend of a ramp, and of what one pulse differs from the next, which is told of as far as it goes. */
const COUNTED = { pulses: 0.1, alternation: 0.01, bend: 0.02 };
const COUNTED_ROUGHLY = { pulses: 0.1, alternation: 0.01, bend: 0.04 };
const MOST_ALTERNATION = 0.06;

/** Voltages and currents of a board, to which small ones are held. @public */
export const scalesOf = ({ stage }: CompleteStage) => ({
  voltage: Math.max(stage.targets.inputVoltage.max, Math.abs(stage.targets.outputVoltage)),
  current:
    (stage.targets.outputCurrent.max / stage.phases) *
    Math.max(1, Math.abs(stage.targets.outputVoltage) / stage.targets.inputVoltage.min),
});

/**
 * What a stage looks like with each fault, out of the switched simulator.
 *
 * @param progress called with the share that is done; stops where it returns false.
 * @public
 */
export function faultAtlas(
  complete: CompleteStage,
  condition: BenchCondition,
  progress: (share: number) => boolean = () => true,
): FaultAtlas | string {
  const scales = scalesOf(complete);
  const look = (board: CompleteStage, fault: Fault | undefined, severity: number): BoardFeatures | string => {
    const run = boardRun(fault?.board(board, severity) ?? board, condition);
    return typeof run === 'string' ? run : boardFeatures(run.waveforms, run.period, scales);
  };
  const healthy = look(complete, undefined, 0);
  if (typeof healthy === 'string') return healthy;
  const pictures: FaultPicture[] = [{ key: HEALTHY, branches: [[healthy]] }];
  const barred: { key: string; because: string }[] = [];
  const failed: { key: string; because: string }[] = [];
  for (const [k, fault] of FAULTS.entries()) {
    if (!progress(k / (FAULTS.length + 2))) return 'stopped';
    const because = fault.barred(complete);
    if (because !== undefined) {
      barred.push({ key: fault.key, because });
      continue;
    }
    const boards = fault.wanders === true ? [complete, lowestBoard(complete)] : [complete];
    const branches = boards.flatMap((board) =>
      fault.branches.map((severities) => severities.map((severity) => look(board, fault, severity))),
    );
    const words = branches.flat().find((one) => typeof one === 'string');
    if (words !== undefined) failed.push({ key: fault.key, because: words });
    else pictures.push({ key: fault.key, branches: branches as readonly (readonly BoardFeatures[])[] });
  }
  const others = Array.from({ length: SCATTERED }, (_, k) => look(asBuilt(complete, 77, k), undefined, 0)).filter(
    (one) => typeof one !== 'string',
  );
  return { pictures, barred, failed, spread: spreadOf(healthy, others), scales };
}

type Reading = keyof NodeFeatures;
const READINGS: readonly Reading[] = ['mean', 'low', 'high', 'peak', 'valley', 'bend', 'pulses', 'alternation'];
/** Where a ramp may bend. */
const BENT = /^inductor current/;
/** Where it is seen whether pulses alternate. */
const SWITCHED = 'switch node';
const alternates = (board: BoardFeatures): boolean => (board[SWITCHED]?.alternation ?? 0) > ALTERNATES;
/** Where pulses are counted. */
const PULSED = /^(switch node|gate)/;

/** A reading as it is compared: levels from the mean, pulses where there are any. */
function compared(node: string, features: Partial<NodeFeatures> | undefined, reading: Reading): number | undefined {
  if (!features) return undefined;
  const { [reading]: value, mean } = features;
  if (value === undefined || mean === undefined) return undefined;
  if (reading === 'mean') return value;
  if (reading === 'bend') return BENT.test(node) ? value : undefined;
  if (reading === 'pulses') return PULSED.test(node) ? value : undefined;
  if (reading === 'alternation') return PULSED.test(node) ? Math.min(value, MOST_ALTERNATION) : undefined;
  return value - mean;
}

/** Root mean square difference of boards from one, reading by reading. */
const spreadOf = (from: BoardFeatures, others: readonly BoardFeatures[]): BoardFeatures =>
  Object.fromEntries(
    Object.entries(from).map(([node, features]) => [
      node,
      Object.fromEntries(
        READINGS.map((reading) => {
          const at = compared(node, features, reading) ?? 0;
          const sum = others.reduce((total, one) => total + ((compared(node, one[node], reading) ?? at) - at) ** 2, 0);
          return [reading, Math.sqrt(sum / Math.max(1, others.length))];
        }),
      ) as unknown as NodeFeatures,
    ]),
  );

/** Standard deviation allowed to a reading: boards differ, and so do channels. */
function deviation(atlas: FaultAtlas, node: string, reading: Reading, expected: NodeFeatures, rough: boolean): number {
  const spread = atlas.spread[node]?.[reading] ?? 0;
  if (reading === 'pulses' || reading === 'alternation' || reading === 'bend')
    return Math.hypot(spread, (rough ? COUNTED_ROUGHLY : COUNTED)[reading]);
  const scale = isCurrent(node) ? atlas.scales.current : atlas.scales.voltage;
  const height = expected.peak - expected.valley;
  if (reading === 'mean')
    return Math.hypot(spread, LEVEL.gain * expected.mean, LEVEL.floor * scale, rough ? ROUGH * height : 0);
  return Math.hypot(spread, (rough ? ROUGH : ALTERNATING.gain) * height, ALTERNATING.floor * scale);
}

const isCurrent = (node: string): boolean => node.includes('current');

/** What was read at some places, whole or in part. @public */
export type SeenBoard = Readonly<Record<string, Partial<NodeFeatures>>>;

interface Difference {
  readonly sum: number;
  readonly worst: Ranked['worst'];
}

/** How far what was seen is from a picture between two neighbours. */
function difference(atlas: FaultAtlas, seen: SeenBoard, a: BoardFeatures, b: BoardFeatures, share: number): Difference {
  const rough = alternates(a);
  let sum = 0;
  let count = 0;
  let worst: Ranked['worst'] = { node: '', reading: 'mean', deviations: 0 };
  for (const [node, features] of Object.entries(seen)) {
    const expected = betweenTwo(a[node], b[node], share);
    if (!expected) continue;
    for (const reading of READINGS) {
      const is = compared(node, features, reading);
      const should = compared(node, expected, reading);
      if (is === undefined || should === undefined) continue;
      const deviations = Math.abs(is - should) / deviation(atlas, node, reading, expected, rough);
      sum += Math.min(deviations, MOST) ** 2;
      count += 1;
      if (deviations > worst.deviations) worst = { node, reading, deviations };
    }
  }
  return { sum: sum / Math.max(1, count), worst };
}

const betweenTwo = (
  a: NodeFeatures | undefined,
  b: NodeFeatures | undefined,
  share: number,
): NodeFeatures | undefined =>
  a &&
  b &&
  (Object.fromEntries(
    READINGS.map((reading) => [reading, a[reading] + share * (b[reading] - a[reading])]),
  ) as unknown as NodeFeatures);

/** Places between two neighbours at which their picture is taken. */
const BETWEEN = [0, 0.25, 0.5, 0.75, 1];

/**
 * The faults that explain what was seen, from the likeliest on.
 *
 * @param seen by the place; of a place the average at least.
 * @public
 */
export function diagnose(atlas: FaultAtlas, seen: SeenBoard): Diagnosis {
  const ranked = atlas.pictures
    .map(({ key, branches }): Ranked => {
      let best: Difference | undefined;
      for (const branch of branches)
        branch.forEach((a, k) => {
          const b = branch[k + 1];
          // Between a board that alternates and one that does not there is nothing.
          for (const share of b && alternates(a) === alternates(b) ? BETWEEN : [0]) {
            const found = difference(atlas, seen, a, b ?? a, share);
            if (!best || found.sum < best.sum) best = found;
          }
        });
      const { sum, worst } = best ?? {
        sum: Infinity,
        worst: { node: '', reading: 'mean' as const, deviations: Infinity },
      };
      return { key, distance: Math.sqrt(sum), worst, possible: worst.deviations <= POSSIBLE };
    })
    .sort((a, b) => a.distance - b.distance);
  const possible = ranked.filter((one) => one.possible);
  const [first] = ranked;
  if (possible.length === 0) return { ranked, alike: [], answer: 'nothing fits' };
  const others = possible.filter((one) => one !== first).map(({ key }) => key);
  const answer = first?.possible !== true || others.length > 0 ? 'cannot tell' : 'found';
  return { ranked, alike: answer === 'found' ? [] : others, answer };
}
