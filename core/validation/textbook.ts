import {
  buckIdealDuty,
  buckInductance,
  buckInputCapacitorRms,
  buckRipple,
  inductorRms,
  outputCapacitorRms,
  peakCurrent,
  summedRipple,
  switchRms,
} from '../src/firstcut/buckForms.js';
import type { OutsideCheck } from './outsideCheck.js';

const PRINTED = 1e-6;

const check = (
  source: string,
  quantity: string,
  unit: string,
  expected: number,
  computed: () => number,
  absolute = 0,
): OutsideCheck => ({
  source,
  quantity,
  unit,
  expected,
  relative: PRINTED,
  absolute,
  computed,
});

const RIPPLE_RULE =
  'Inductor from the ripple ratio ΔI/I (standard rule; R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 2)';
const RMS = 'RMS of a trapezoidal waveform (standard result)';
const INPUT_RMS = 'RMS current of the buck input capacitor (standard; recomputed by integration)';
const CANCELLATION = 'Ripple cancellation of the interleaved buck (standard result, by summing the phase triangles)';
const INTERLEAVED_RMS = 'Interleaved buck input RMS current with inductor ripple (by waveform integration)';

const ripple = buckRipple.compute({ vOut: 5, duty: 5 / 12, fSw: 400e3, inductance: 6.0763889e-6 });

/** Closed forms against published and worked figures. */
export const textbookChecks: readonly OutsideCheck[] = [
  check(RIPPLE_RULE, 'duty ratio, 12 V to 5 V', '', 0.41666667, () => buckIdealDuty.compute({ vIn: 12, vOut: 5 })),
  check(RIPPLE_RULE, 'inductance for ripple ratio 0.3, 5 V, 4 A, 400 kHz', 'H', 6.0763889e-6, () =>
    buckInductance.compute({ vOut: 5, duty: 5 / 12, fSw: 400e3, ratio: 0.3, phaseCurrent: 4 }),
  ),
  check(RIPPLE_RULE, 'inductor ripple current', 'A', 1.2, () => ripple),
  check(RIPPLE_RULE, 'peak inductor current', 'A', 4.6, () => peakCurrent.compute({ phaseCurrent: 4, ripple })),
  check(RIPPLE_RULE, 'inductor RMS current', 'A', 4.014972, () => inductorRms.compute({ phaseCurrent: 4, ripple })),
  check(INPUT_RMS, 'input capacitor RMS current, D = 0.275, no ripple', 'A', 4.4651428, () =>
    buckInputCapacitorRms.compute({ loadCurrent: 10, duty: 0.275, phases: 1, ripple: 0 }),
  ),
  check(INPUT_RMS, 'input capacitor RMS current, D = 0.275, 3 A ripple', 'A', 4.4881789, () =>
    buckInputCapacitorRms.compute({ loadCurrent: 10, duty: 0.275, phases: 1, ripple: 3 }),
  ),
  check(INPUT_RMS, 'input capacitor RMS current at its worst, D = 0.5', 'A', 5, () =>
    buckInputCapacitorRms.compute({ loadCurrent: 10, duty: 0.5, phases: 1, ripple: 0 }),
  ),
  check(INPUT_RMS, 'output capacitor RMS current, 3 A ripple', 'A', 0.8660254, () =>
    outputCapacitorRms.compute({ ripple: 3 }),
  ),
  check(RMS, 'high-side RMS current', 'A', 5.2788888, () =>
    switchRms.compute({ share: 0.275, phaseCurrent: 10, ripple: 4 }),
  ),
  check(RMS, 'low-side RMS current', 'A', 8.5712698, () =>
    switchRms.compute({ share: 0.725, phaseCurrent: 10, ripple: 4 }),
  ),
  ...(
    [
      [2, 0.1, 0.88888889],
      [2, 0.25, 0.66666667],
      [2, 0.5, 0],
      [3, 0.25, 0.33333333],
      [3, 1 / 3, 0],
      [4, 0.1, 0.66666667],
      [4, 0.3, 0.19047619],
      [6, 0.15, 0.11764706],
    ] as const
  ).map(([phases, duty, expected]) =>
    check(
      CANCELLATION,
      `summed over phase ripple, ${String(phases)} phases, D = ${duty.toFixed(3)}`,
      '',
      expected,
      () => summedRipple.compute({ ripple: 1, duty, phases }),
      1e-8,
    ),
  ),
  ...(
    [
      [3, 0.15, 12.75, 9.9498744, 10.251639],
      [4, 0.3, 10.5, 6, 6.2825817],
    ] as const
  ).flatMap(([phases, duty, phaseRipple, without, withRipple]) => [
    check(INTERLEAVED_RMS, `${String(phases)} phases, D = ${String(duty)}, no ripple`, 'A', without, () =>
      buckInputCapacitorRms.compute({ loadCurrent: 60, duty, phases, ripple: 0 }),
    ),
    check(INTERLEAVED_RMS, `${String(phases)} phases, D = ${String(duty)}, with ripple`, 'A', withRipple, () =>
      buckInputCapacitorRms.compute({ loadCurrent: 60, duty, phases, ripple: phaseRipple }),
    ),
  ]),
];
