import { decibels, degreesOf, type Complex } from '../linalg/complex.js';

/** A margin, or why there is none. */
export type Margin =
  | { readonly kind: 'found'; readonly value: number; readonly frequency: number }
  | { readonly kind: 'none'; readonly reason: string };

export interface Margins {
  /** Where the loop gain falls through one, Hz; the value is the same frequency. */
  readonly crossover: Margin;
  /** Degrees. */
  readonly phaseMargin: Margin;
  /** dB, at the frequency where the phase passes −180°. */
  readonly gainMargin: Margin;
}

/** A response at a frequency. */
export interface ResponsePoint {
  readonly frequency: number;
  readonly value: Complex;
}

/** Phases in degrees without jumps, the first between −270 and 90: a response begins at 0, −90 or −180. */
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

/** Where the gain falls through one, and where the phase passes an odd multiple of 180° on its way down. */
interface Crossing {
  readonly frequency: number;
  /** Phase margin in degrees, or gain in dB. */
  readonly value: number;
}

/** An angle in degrees, between −180 and 180. */
const folded = (degrees: number): number => degrees - 360 * Math.round(degrees / 360);

/**
 * Crossover, phase margin and gain margin of a loop gain, by the usual definitions (K. Ogata, Modern Control Engineering, 5th
 * ed., ch. 7). Where the gain falls through one more than once, the crossing with the least phase margin counts. The gain margin
 * is how much the gain may rise; a loop that becomes unstable only as its gain falls has none, and says so.
 *
 * @param points frequencies ascending, up to half the switching frequency: an analyser shows no margin above.
 * @param exact the loop gain at any frequency between them.
 * @param precision to which crossings are found, of the logarithm of their frequency.
 */
export function marginsOf(
  points: readonly ResponsePoint[],
  exact: (frequency: number) => Complex,
  precision = REFINED,
): Margins {
  const gains = points.map(({ value }) => decibels(value));
  const phases = unwrapped(points.map(({ value }) => value));
  const phaseNear = (frequency: number, near: number): number => {
    const phase = degreesOf(exact(frequency));
    return phase + 360 * Math.round((near - phase) / 360);
  };
  const falls: Crossing[] = [];
  const turns: Crossing[] = [];
  for (let k = 1; k < points.length; k += 1) {
    const low = points[k - 1]?.frequency ?? 0;
    const high = points[k]?.frequency ?? 0;
    const [g0, g1] = [gains[k - 1] ?? 0, gains[k] ?? 0];
    const [p0, p1] = [phases[k - 1] ?? 0, phases[k] ?? 0];
    const middle = (p0 + p1) / 2;
    if (g0 >= 0 && g1 < 0) {
      const frequency = passes((f) => decibels(exact(f)), low, high, g0, g1, precision);
      falls.push({ frequency, value: folded(180 + phaseNear(frequency, middle)) });
    }
    // The odd multiple of 180° that lies between, where there is one.
    const odd = 360 * Math.floor((p0 - 180 - 1e-9) / 360) + 180;
    if (p0 > odd && p1 <= odd) {
      const frequency = passes((f) => phaseNear(f, middle) - odd, low, high, p0 - odd, p1 - odd, precision);
      turns.push({ frequency, value: decibels(exact(frequency)) });
    }
  }
  const least = falls.reduce<Crossing | undefined>(
    (best, one) => (best && best.value <= one.value ? best : one),
    undefined,
  );
  const gainMargin = gainMarginOf(turns, least);
  if (!least) {
    const reason =
      (gains[0] ?? 0) < 0
        ? 'the loop gain is below one from the lowest frequency on'
        : 'the loop gain stays above one up to half the switching frequency';
    return { crossover: { kind: 'none', reason }, phaseMargin: { kind: 'none', reason }, gainMargin };
  }
  const { frequency, value } = least;
  return {
    crossover: { kind: 'found', value: frequency, frequency },
    phaseMargin: { kind: 'found', value, frequency },
    gainMargin,
  };
}

function gainMarginOf(turns: readonly Crossing[], crossover: Crossing | undefined): Margin {
  const beyond = turns.find(({ frequency }) => crossover === undefined || frequency >= crossover.frequency);
  const last = turns.at(-1);
  // With a negative phase margin the phase has passed −180° below crossover, and the gain is too high there.
  const counted = beyond ?? (crossover && crossover.value < 0 ? last : undefined);
  if (counted) return { kind: 'found', value: -counted.value, frequency: counted.frequency };
  const reason = last
    ? `the phase passes −180° below the crossover frequency only: the gain may rise, but not fall by ${last.value.toFixed(1)} dB`
    : 'the phase does not pass −180° below half the switching frequency';
  return { kind: 'none', reason };
}
