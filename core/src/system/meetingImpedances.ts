import { degreesOf, magnitude, product, type Complex } from '../linalg/complex.js';
import { closeLoop } from '../smallsignal/closedLoop.js';
import { loopFrequencies, LoopResponse } from '../smallsignal/loopResponse.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { solveStage } from '../steady/solveStage.js';
import type { FeedingTree } from './feedingTree.js';
import type { PowerFlow } from './powerFlow.js';

/** The output impedance of a stage that feeds others against the input impedance of all it feeds. @public */
export interface Meeting {
  readonly feeder: string;
  readonly fed: readonly string[];
  readonly points: readonly { readonly frequency: number; readonly output: Complex; readonly input: Complex }[];
  /** Where the output impedance comes nearest to the input impedance, and its share of it there. */
  readonly nearest: { readonly frequency: number; readonly share: number };
  /** Degrees by which the ratio of the two stays off −1 where it passes through one; undefined where it stays below. */
  readonly margin: number | undefined;
}

/** A feeder of which this is not known, and why. @public */
export interface NoMeeting {
  readonly feeder: string;
  readonly reason: string;
}

const POINTS = 160;

/** The response of a stage with its loop closed, at an input voltage and a load; the words for why there is none. */
function responseOf(complete: CompleteStage, inputVoltage: number, current: number): LoopResponse | string {
  const condition = { inputVoltage, load: { kind: 'current' as const, current } };
  const solved = solveStage(complete, condition);
  if (solved.kind === 'unsolved') return solved.reason;
  const closed = closeLoop(complete, condition, solved);
  return closed.kind === 'closed' ? new LoopResponse(closed.loop) : closed.reason;
}

/**
 * Where stages feed each other: the output impedance of each feeder with its loop closed, against the input impedance of what it feeds,
 * their loops closed too and their input capacitors and filters counted, at what flows there. While the first stays well below the second
 * each stage behaves as by itself; where it passes it the ratio is a loop gain of its own, and must keep off −1.
 *
 * Source: R. D. Middlebrook, Input Filter Considerations in Design and Application of Switching Regulators, IEEE IAS 1976.
 *
 * @public
 */
export function meetingImpedances(tree: FeedingTree, { flows }: PowerFlow): readonly (Meeting | NoMeeting)[] {
  const flowOf = new Map(flows.map((one) => [one.name, one]));
  return tree.order.flatMap(({ name, stage }): readonly (Meeting | NoMeeting)[] => {
    const fed = tree.fed.get(name) ?? [];
    if (fed.length === 0) return [];
    const failed = (reason: string): readonly NoMeeting[] => [{ feeder: name, reason }];
    const flow = flowOf.get(name);
    const complete = completeStage(stage);
    if (!flow || !complete.ok) return failed('no power could be followed through it');
    const feeding = responseOf(complete.value, flow.inputVoltage, flow.outputCurrent);
    if (typeof feeding === 'string') return failed(feeding);
    const loads: LoopResponse[] = [];
    let slowest = complete.value.switchingFrequency;
    for (const one of fed) {
      const own = flowOf.get(one.name);
      // The feeder is its source: what it states of another has no place here.
      const alone = completeStage({ ...one.stage, parts: { ...one.stage.parts, source: undefined } });
      if (!own || !alone.ok) return failed(`no power could be followed through ${one.name}`);
      const load = responseOf(alone.value, own.inputVoltage, own.outputCurrent);
      if (typeof load === 'string') return failed(`${one.name}: ${load}`);
      loads.push(load);
      slowest = Math.min(slowest, alone.value.switchingFrequency);
    }
    const points = loopFrequencies(slowest, POINTS).map((frequency) => {
      const output = feeding.outputImpedance(frequency);
      // Y = Σ Y of what hangs there.
      const admittance = loads.reduce<Complex>(
        (sum, load) => {
          const { re, im } = load.inputAdmittance(frequency);
          return { re: sum.re + re, im: sum.im + im };
        },
        { re: 0, im: 0 },
      );
      return { frequency, output, admittance, gain: product(output, admittance) };
    });
    let nearest = { frequency: NaN, share: 0 };
    let margin: number | undefined;
    points.forEach(({ frequency, gain }, k) => {
      const share = magnitude(gain);
      if (share > nearest.share) nearest = { frequency, share };
      const before = points[k - 1];
      if (!before || (magnitude(before.gain) - 1) * (share - 1) > 0) return;
      const off = 180 - Math.abs(degreesOf(gain));
      margin = Math.min(margin ?? Infinity, off);
    });
    return [
      {
        feeder: name,
        fed: fed.map((one) => one.name),
        points: points.map(({ frequency, output, admittance: { re, im } }) => {
          const square = re * re + im * im;
          return { frequency, output, input: { re: re / square, im: -im / square } };
        }),
        nearest,
        margin,
      },
    ];
  });
}
