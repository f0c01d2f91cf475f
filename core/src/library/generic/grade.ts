/**
 * How good a generic part is for its kind. Real catalogues hold parts of several generations side by side, so a record draws one hidden
 * grade from its name, which moves all its figures together, and each figure a little scatter of its own. From memory of usual parts.
 */
export interface Grade {
  /** 0 for the best that is made, 0.5 for the ordinary, above that for what is old and still sold. */
  readonly level: number;
  /** Price over that of an ordinary part: new ones cost more, old ones less. */
  readonly price: number;
  /** A factor near one, of its own for each figure. */
  readonly scatter: (figure: string) => number;
}

/** Standard deviation of a figure about its law, of the logarithm. */
const SCATTER = 0.08;

/** A number from 0 to 1 that a text always gives (FNV-1a, with a last mixing). */
function drawn(text: string): number {
  let hash = 0x811c9dc5;
  for (const character of text) hash = Math.imul(hash ^ (character.codePointAt(0) ?? 0), 0x01000193);
  hash = Math.imul(hash ^ (hash >>> 15), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return ((hash ^ (hash >>> 16)) >>> 0) / 2 ** 32;
}

/** The grade of a part by its name: three in ten are new, five ordinary, two old. */
export function gradeOf(name: string): Grade {
  const draw = drawn(name);
  const level = draw < 0.3 ? draw / 1.5 : draw < 0.8 ? 0.2 + (draw - 0.3) * 1.2 : 0.8 + (draw - 0.8) * 2;
  return {
    level,
    price: draw < 0.3 ? 1.25 : draw < 0.8 ? 1 : 0.75,
    // Box and Muller's transform of two draws, kept within two deviations.
    scatter: (figure) => {
      const [u, v] = [Math.max(1e-9, drawn(`${name} ${figure} u`)), drawn(`${name} ${figure} v`)];
      const normal = Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * v);
      return Math.exp(SCATTER * Math.max(-2, Math.min(2, normal)));
    },
  };
}

/** A figure between the best and the ordinary of its kind, or beyond, by grade: geometric, as figures of merit go. */
export const graded = ([best, ordinary]: readonly [number, number], level: number): number =>
  best * (ordinary / best) ** Math.min(1.2, level);

export const rounded = (value: number): number => Number(value.toPrecision(3));
