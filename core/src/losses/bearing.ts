import { settledStart } from '../orbit/inside.js';
import { dot } from '../linalg/dense.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { SwitchPlace } from '../topology/topology.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import type { Segment } from '../orbit/segment.js';
import type { PowerStage } from '../powerstage/powerStage.js';

/** An edge of a switch as the waveforms show it, in the direction in which the device blocks. */
export interface Edge {
  readonly kind: 'on' | 'off';
  /** Voltage on the blocking side of the edge, V; near zero or negative where a diode had taken over. */
  readonly voltage: number;
  /** Current on the conducting side, A, positive from drain to source. */
  readonly current: number;
  /** What of the other device of the leg carries the current on the blocking side of the edge. */
  readonly other: 'nothing' | 'channel' | 'diode';
  /** Of a turn-on that a reversed current makes soft: the voltage it swings, V, and the dead time it has for that, s. */
  readonly swing?: { readonly voltage: number; readonly within: number } | undefined;
}

/** What a position of a leg bears over a period: all that its switching losses hang on. The same in every phase. */
export interface Bearing {
  readonly place: SwitchPlace;
  readonly otherPlace: SwitchPlace;
  readonly edges: readonly Edge[];
  /** Hz */
  readonly frequency: number;
  readonly phases: number;
}

/** A step of the voltage below this share of the largest source is no switching edge but a diode handing over. */
const HANDED_OVER = 0.02;

/** The segments that last, each with the one before it, round the period. */
function* neighbours({
  segments,
}: PeriodicSolution): Generator<readonly [before: Segment, after: Segment, earlier: Segment]> {
  const lasting = segments.filter(({ duration }) => duration > 0);
  for (const [k, after] of lasting.entries()) {
    const before = lasting.at(k - 1);
    const earlier = lasting.at(k - 2);
    if (before && earlier) yield [before, after, earlier];
  }
}

/**
 * The edges of every switch of a stage, read off the exact waveforms: whether a switch turns on against a voltage or finds its
 * voltage already gone (a diode carries the current, or a negative inductor current has swung the node) is in them.
 */
export function bearingsOf(
  complete: CompleteStage,
  { circuit, elements }: PowerStage,
  solution: PeriodicSolution,
): readonly Bearing[] {
  const largest = Math.max(...circuit.elements.map((e) => (e.kind === 'voltageSource' ? Math.abs(e.voltage) : 0)));
  const frequency = 1 / solution.period;
  return complete.legs.flatMap(({ mainPlace, rectifierPlace, rectifier }) => {
    const places: readonly (readonly [place: SwitchPlace, other: SwitchPlace, direction: number])[] = [
      [mainPlace, rectifierPlace, 1],
      // A rectifier is drawn in the direction of the inductor current, which it blocks against.
      ...(rectifier.kind === 'switch' ? [[rectifierPlace, mainPlace, -1] as const] : []),
    ];
    return places.flatMap(([place, otherPlace, direction]): readonly Bearing[] => {
      const position = elements.positions[place]?.[0];
      const otherPosition = elements.positions[otherPlace]?.[0];
      if (!position || !otherPosition) return [];
      const { device } = position;
      const isDiode = place === mainPlace && rectifier.kind === 'diode';
      const carriedBy = (conducting: readonly string[]): Edge['other'] => {
        if (otherPosition.bodyDiode !== undefined && conducting.includes(otherPosition.bodyDiode)) return 'diode';
        if (!conducting.includes(otherPosition.device)) return 'nothing';
        return isDiode ? 'diode' : 'channel';
      };
      const edges: Edge[] = [];
      for (const [before, after, earlier] of neighbours(solution)) {
        const was = before.equations.conducting.includes(device);
        const is = after.equations.conducting.includes(device);
        if (was === is) continue;
        const kind = is ? 'on' : 'off';
        const [open, openState, closed, closedState] = is
          ? [before.equations, before.final, after.equations, settledStart(after)]
          : [after.equations, settledStart(after), before.equations, before.final];
        const voltage = open.voltage.get(device);
        const current = closed.current.get(device);
        if (!voltage || !current) continue;
        const blocked = direction * dot(voltage, openState);
        const stands = blocked > HANDED_OVER * largest;
        // What stood across it until the other device opened, where a diode of its own has taken over since; with no dead time at all
        // nothing has swung yet as the main switch closes. (The rectifier is taken to be handed the current then.)
        const stood = earlier.equations.voltage.get(device);
        const dead = !stands && stood !== undefined;
        const swing = !is
          ? undefined
          : dead
            ? { voltage: direction * dot(stood, earlier.final), within: before.duration }
            : place === mainPlace
              ? { voltage: blocked, within: 0 }
              : undefined;
        edges.push({
          kind,
          voltage: stands ? blocked : Math.min(blocked, 0),
          current: direction * dot(current, closedState),
          other: carriedBy(open.conducting),
          swing,
        });
      }
      return [{ place, otherPlace, edges, frequency, phases: complete.stage.phases }];
    });
  });
}
