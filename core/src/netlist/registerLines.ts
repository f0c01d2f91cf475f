import type { Update } from '../orbit/periodicProblem.js';
import { number } from './spiceValue.js';

/** How long a register follows what it is to hold, before the instant at which it holds it, as a share of the sampling period. */
const FOLLOWS = 2e-3;
/** Resistance through which it follows, ohm, with the capacitance of its hold such that it settles many times over, in seconds. */
const THROUGH = 1;
const SETTLES = 60;
/** Ratio of resistances of the open and the closed switch. */
const OPEN = 1e12;

/**
 * The registers of a sampled controller as sample-and-hold pairs: each follows the sum it is to hold until the instant of its update,
 * and hands it on right after it, so that all that happens at one instant starts from what was before it.
 *
 * @param period between two samples, s.
 * @param initial voltage of each register at the start, V.
 */
export function registerLines(
  updates: readonly Update[],
  period: number,
  initial: (register: string) => number,
): readonly string[] {
  const hold = (FOLLOWS * period) / (SETTLES * THROUGH);
  const edge = number(FOLLOWS * period * 1e-2);
  const width = number(FOLLOWS * period * 0.98);
  const pulse = (name: string, at: number): string =>
    `v${name} ${name} 0 PULSE(0 1 ${number(at < 0 ? at + period : at)} ${edge} ${edge} ${width} ${number(period)})`;
  const model = `.model m_hold SW(VT=0.5 VH=0 RON=${number(THROUGH)} ROFF=${number(OPEN)})`;
  const lines = updates.flatMap(({ at, assignments }, u) => {
    const id = String(u + 1);
    const instant = at * period;
    return [
      pulse(`take_${id}`, instant - FOLLOWS * period),
      pulse(`give_${id}`, instant + FOLLOWS * period * 0.02),
      ...assignments.flatMap(({ capacitor, terms }) => [
        `bn_${capacitor} n_${capacitor} 0 V = ${terms.map(({ node, weight }) => `${number(weight)}*v(${node})`).join(' + ')}`,
        `sn_${capacitor} n_${capacitor} h_${capacitor} take_${id} 0 m_hold`,
        `cn_${capacitor} h_${capacitor} 0 ${number(hold)} IC=${number(initial(capacitor))}`,
        `eh_${capacitor} b_${capacitor} 0 h_${capacitor} 0 1`,
        `sh_${capacitor} b_${capacitor} ${capacitor} give_${id} 0 m_hold`,
        `ch_${capacitor} ${capacitor} 0 ${number(hold)} IC=${number(initial(capacitor))}`,
      ]),
    ];
  });
  return updates.length === 0 ? [] : [model, ...lines];
}
