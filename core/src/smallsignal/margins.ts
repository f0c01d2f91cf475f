import { decibels, degreesOf, type Complex } from '../linalg/complex.js';
import { peakWithin } from '../linalg/goldenSection.js';
import { formatQuantity } from '../quantity/engineering.js';

/** A margin, or why there is none. @public */
export type Margin =
  | { readonly kind: 'found'; readonly value: number; readonly frequency: number }
  | { readonly kind: 'none'; readonly reason: string };

/** @public */
export interface Margins {
  /** Every crossing of 0 dB, by frequency. */
  readonly crossings: readonly GainCrossing[];
  /** Where the loop gain crosses one with the least phase margin, Hz; the value is the same frequency. */
  readonly crossover: Margin;
  /** Degrees. */
  readonly phaseMargin: Margin;
  /** dB, at the frequency where the phase passes −180°. */
  readonly gainMargin: Margin;
}

/** A response at a frequency. @public */
export interface ResponsePoint {
  readonly frequency: number;
  readonly value: Complex;
}

/** Phases in degrees without jumps, the first between −270 and 90: a response begins at 0, −90 or −180. @public */
export function unwrapped(values: readonly Complex[]): readonly number[] {
  const out: number[] = [];
  for (const value of values) {
    const phase = degreesOf(value);
    const before = out.at(-1);
    if (before === undefined) out.push(phase > 90 ? phase - 360 : phase);
    else out.push(phase + 360 * Math.round((before - phase) / 360));
  }
  return out;
}

const REFINEMENTS = 40;
const REFINED = 1e-10;

/** The frequency between two others at which a quantity passes through zero, by halves and chords on a logarithmic scale. */
function passes(
  of: (frequency: number) => number,
  low: number,
  high: number,
  atLow: number,
  atHigh: number,
  precision: number,
): number {
  let a = Math.log(low);
  let b = Math.log(high);
  let fa = atLow;
  let fb = atHigh;
  for (let step = 0; step < REFINEMENTS && Math.abs(b - a) > precision; step += 1) {
    const chord = b - (fb * (b - a)) / (fb - fa);
    const inside = chord > Math.min(a, b) && chord < Math.max(a, b);
    const c = step % 3 === 2 || !inside ? (a + b) / 2 : chord;
    const fc = of(Math.exp(c));
    if (fc === 0) return Math.exp(c);
    if (Math.sign(fc) === Math.sign(fa)) [a, fa] = [c, fc];
    else [b, fb] = [c, fc];
  }
  return Math.exp(Math.abs(fa) < Math.abs(fb) ? a : b);
}

/** A crossing of 0 dB. @public */
export interface GainCrossing {
  /** Hz */
  readonly frequency: number;
  /** Degrees from −180°: −180 to 180 where the gain falls, and how far it is where it rises. */
  readonly phaseMargin: number;
  readonly direction: 'falling' | 'rising';
}

/** Where the phase passes an odd multiple of 180° on its way down. */
interface Turn {
  readonly frequency: number;
  /** dB */
  readonly gain: number;
}

/** An angle in degrees, between −180 and 180. */
const folded = (degrees: number): number => degrees - 360 * Math.round(degrees / 360);

/** How near to 0 dB a dip or a hump between two points must come to be looked into: a notch may hide between them. */
const LOOKED_INTO = 12;
const EXTREME_STEPS = 24;

/**
 * The gain at ascending frequencies, with the bottom of every dip that may reach below 0 dB, and the top of every hump that may
 * reach above, put in between: then every crossing lies between two of them.
 */
function withExtremes(
  points: readonly ResponsePoint[],
  exact: (frequency: number) => Complex,
): readonly ResponsePoint[] {
  const gains = points.map(({ value }) => decibels(value));
  const between: ResponsePoint[] = [];
  for (let k = 1; k + 1 < points.length; k += 1) {
    const [before = 0, here = 0, after = 0] = gains.slice(k - 1, k + 2);
    const dips = here > 0 && here < LOOKED_INTO && here <= before && here <= after;
    const humps = here < 0 && here > -LOOKED_INTO && here >= before && here >= after;
    if (!dips && !humps) continue;
    const sign = dips ? -1 : 1;
    const [low, high] = [points[k - 1]?.frequency ?? 1, points[k + 1]?.frequency ?? 1];
    const of = (logarithm: number): number => sign * decibels(exact(Math.exp(logarithm)));
    const { at, value } = peakWithin(of, Math.log(low), Math.log(high), EXTREME_STEPS);
    if (value > 0) between.push({ frequency: Math.exp(at), value: exact(Math.exp(at)) });
  }
  return between.length === 0 ? points : [...points, ...between].sort((a, b) => a.frequency - b.frequency);
}

/**
 * Crossover, phase margin and gain margin of a loop gain, by the usual definitions (K. Ogata, Modern Control Engineering, 5th
 * ed., ch. 7). Where the gain crosses one more than once, as a filter's notch makes it, every crossing is told and the one with the
 * least phase margin counts. The gain margin is how much the gain may rise; a loop that becomes unstable only as its gain falls has
 * none, and says so.
 *
 * @param points frequencies ascending, up to half the switching frequency: an analyser shows no margin above.
 * @param exact the loop gain at any frequency between them.
 * @param precision to which crossings are found, of the logarithm of their frequency.
 * @public
 */
export function marginsOf(
  points: readonly ResponsePoint[],
  exact: (frequency: number) => Complex,
  precision = REFINED,
): Margins {
  const looked = withExtremes(points, exact);
  const gains = looked.map(({ value }) => decibels(value));
  const phases = unwrapped(looked.map(({ value }) => value));
  const phaseNear = (frequency: number, near: number): number => {
    const phase = degreesOf(exact(frequency));
    return phase + 360 * Math.round((near - phase) / 360);
  };
  const crossings: GainCrossing[] = [];
  const turns: Turn[] = [];
  for (let k = 1; k < looked.length; k += 1) {
    const low = looked[k - 1]?.frequency ?? 0;
    const high = looked[k]?.frequency ?? 0;
    const [g0, g1] = [gains[k - 1] ?? 0, gains[k] ?? 0];
    const [p0, p1] = [phases[k - 1] ?? 0, phases[k] ?? 0];
    const middle = (p0 + p1) / 2;
    if (g0 >= 0 !== g1 >= 0) {
      const frequency = passes((f) => decibels(exact(f)), low, high, g0, g1, precision);
      const angle = folded(180 + phaseNear(frequency, middle));
      // Where the gain rises there is no side on which the phase should lie: how far it is from −180° counts.
      const rises = g0 < 0;
      crossings.push({
        frequency,
        phaseMargin: rises ? Math.abs(angle) : angle,
        direction: rises ? 'rising' : 'falling',
      });
    }
    // The odd multiple of 180° that lies between, where there is one.
    const odd = 360 * Math.floor((p0 - 180 - 1e-9) / 360) + 180;
    if (p0 > odd && p1 <= odd) {
      const frequency = passes((f) => phaseNear(f, middle) - odd, low, high, p0 - odd, p1 - odd, precision);
      turns.push({ frequency, gain: decibels(exact(frequency)) });
    }
  }
  const worst = worstCrossing(crossings);
  const gainMargin = gainMarginOf(turns, worst);
  if (!worst) {
    const reason =
      (gains[0] ?? 0) < 0
        ? 'the loop gain is below one from the lowest frequency on'
        : 'the loop gain stays above one up to half the switching frequency';
    return { crossings, crossover: { kind: 'none', reason }, phaseMargin: { kind: 'none', reason }, gainMargin };
  }
  const { frequency, phaseMargin } = worst;
  return {
    crossings,
    crossover: { kind: 'found', value: frequency, frequency },
    phaseMargin: { kind: 'found', value: phaseMargin, frequency },
    gainMargin,
  };
}

/**
 * The crossing with the least phase margin. A gain that rises above one last of all and stays there up to half the switching
 * frequency is not judged here: it does so as pulses begin to alternate, which the subharmonic margin says by itself.
 */
function worstCrossing(crossings: readonly GainCrossing[]): GainCrossing | undefined {
  const judged = crossings.at(-1)?.direction === 'rising' ? crossings.slice(0, -1) : crossings;
  return judged.reduce<GainCrossing | undefined>(
    (worst, one) => (worst && worst.phaseMargin <= one.phaseMargin ? worst : one),
    undefined,
  );
}

function gainMarginOf(turns: readonly Turn[], crossover: GainCrossing | undefined): Margin {
  const beyond = turns.find(({ frequency }) => crossover === undefined || frequency >= crossover.frequency);
  const last = turns.at(-1);
  // With a negative phase margin the phase has passed −180° below crossover, and the gain is too high there.
  const counted = beyond ?? (crossover && crossover.phaseMargin < 0 ? last : undefined);
  if (counted) return { kind: 'found', value: -counted.gain, frequency: counted.frequency };
  const reason = last
    ? `the phase passes −180° below the crossover frequency only: the gain may rise, but not fall by ${last.gain.toFixed(1)} dB`
    : 'the phase does not pass −180° below half the switching frequency';
  return { kind: 'none', reason };
}

/** All crossings in a sentence, where there is more than one; undefined where one says it all. @public */
export function crossingsSentence(crossings: readonly GainCrossing[]): string | undefined {
  if (crossings.length < 2) return undefined;
  const list = crossings.map(
    ({ frequency, phaseMargin, direction }) =>
      `${formatQuantity(frequency, 'Hz', 3)} (${direction}, ${phaseMargin.toFixed(0)}°)`,
  );
  return `The loop gain crosses 0 dB ${String(crossings.length)} times: at ${list.slice(0, -1).join(', ')} and ${list.at(-1) ?? ''}; the margins are those at the crossing with the least phase margin.`;
}
