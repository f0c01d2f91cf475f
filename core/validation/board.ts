import {
  chargingCurrent,
  lockOutOff,
  lockOutOn,
  oscillatorFrequency,
  softStartTime,
  trimmerLeast,
} from '../src/auxiliary/auxiliaryForms.js';
import { closedWayInductance, type Strip } from '../src/floorplan/stripInductance.js';
import { CONDUCTOR_K, conductorWidth, foilResistance } from '../src/layout/conductorForms.js';
import { leastSpacing, type SpacingColumn } from '../src/layout/spacing.js';
import { resistivityAt } from '../src/magnetics/copper.js';
import type { OutsideCheck } from './outsideCheck.js';

const WIDTHS = 'IPC-2221, conductor chart fitted as I = k ΔT^0.44 A^0.725 (constants from memory)';
const SPACINGS = 'IPC-2221, table 6-1 (electrical conductor spacing, from memory)';

const check = (
  source: string,
  quantity: string,
  unit: string,
  expected: number,
  computed: () => number,
  relative = 1e-6,
): OutsideCheck => ({ source, quantity, unit, expected, computed, relative });

const width = (side: keyof typeof CONDUCTOR_K, current: number, rise: number, expected: number): OutsideCheck =>
  check(
    WIDTHS,
    `width for ${String(current)} A and ${String(rise)} K on 35 µm, ${side}`,
    'm',
    expected,
    () => conductorWidth.compute({ current, rise, thickness: 35e-6, k: CONDUCTOR_K[side] }),
    1e-4,
  );

const spacing = (column: SpacingColumn, voltage: number, expected: number): OutsideCheck =>
  check(SPACINGS, `spacing at ${String(voltage)} V, ${column}`, 'm', expected, () => leastSpacing(column, voltage));

/** Of the example: 1.2 V, 300 kΩ over 41.2 kΩ, 3 µA. */
const LOCK_OUT = { threshold: 1.2, falling: 1.2, upper: 300e3, lower: 41.2e3, hysteresis: 3e-6, standing: 0 };
const LOCKED = 'Under-voltage lock-out divider with hysteresis current (Kirchhoff’s current law)';
const OSCILLATOR = 'RC relaxation oscillator, f = k/(RC)';
const oscillator = (k: number): number =>
  oscillatorFrequency.compute({ k, resistance: 10e3, capacitance: 1e-9, discharge: 0 });
const RAMP = { capacitance: 12.5e-9, reference: 0.8, current: 5e-6 };

/** A way round a rectangle. */
const rectangle = (length: number, breadth: number, width: number): readonly Strip[] => {
  const corners = [
    { x: 0, y: 0 },
    { x: length, y: 0 },
    { x: length, y: breadth },
    { x: 0, y: breadth },
  ];
  return corners.map((from, k) => ({ from, to: corners[(k + 1) % 4] ?? from, width }));
};

/** Published and derived figures of conductors, spacing, and the parts around a controller. */
export const boardChecks: readonly OutsideCheck[] = [
  ...(
    [
      [0.03, 0.02, 1e-3, 7.8149261e-8],
      [0.01, 0.005, 0.5e-3, 1.99542887e-8],
    ] as const
  ).map(([length, breadth, width, expected]) =>
    check(
      'F. W. Grover, Inductance Calculations, ch. 8, rectangle: (μ₀/π){(a+b)ln(2ab/r) − a ln(a+d) − b ln(b+d) + 2d − 2(a+b)}, r = e^(−3/2) w; from memory',
      `way of strips round ${String(1e3 * length)} by ${String(1e3 * breadth)} mm, ${String(1e3 * width)} mm wide`,
      'H',
      expected,
      () => closedWayInductance(rectangle(length, breadth, width)),
      1e-2,
    ),
  ),
  width('external', 1, 10, 0.00030038652),
  width('external', 3, 10, 0.0013670321),
  width('external', 10, 10, 0.0071943371),
  width('external', 5, 20, 0.0018158624),
  width('internal', 1, 10, 0.00078143746),
  width('internal', 10, 20, 0.012288829),
  spacing('internal', 100, 0.1e-3),
  spacing('internal', 500, 0.25e-3),
  spacing('bare', 30, 0.1e-3),
  spacing('bare', 31, 0.6e-3),
  spacing('bare', 170, 1.25e-3),
  spacing('bare', 600, 3e-3),
  spacing('coated', 150, 0.4e-3),
  spacing('coated', 600, 1.105e-3),
  spacing('leads', 15, 0.13e-3),
  spacing('leads', 500, 1.5e-3),
  check(
    'Sheet resistance of foil (definition), IEC 60028 copper',
    'a square of 35 µm at 20 °C',
    'Ω',
    0.00049261084,
    () => foilResistance.compute({ resistivity: resistivityAt(20), length: 1, width: 1, thickness: 35e-6 }),
    1e-4,
  ),
  check(
    'Sheet resistance of foil (definition), IEC 60028 copper',
    'drop of 5 A along 20 mm of 5 mm, 35 µm, at 100 °C',
    'V',
    0.012949754,
    () => 5 * foilResistance.compute({ resistivity: resistivityAt(100), length: 0.02, width: 0.005, thickness: 35e-6 }),
    1e-4,
  ),
  check(OSCILLATOR, 'charged through 10 kΩ from a third to two thirds, 1 nF', 'Hz', 144269.5, () =>
    oscillator(1 / Math.LN2),
  ),
  check(OSCILLATOR, 'charged by a mirrored 1.25 V/10 kΩ over 2 V, 1 nF', 'Hz', 62500, () => oscillator(1.25 / 2)),
  check('I = C dV/dt (definition)', 'soft-start time of 12.5 nF, 0.8 V, 5 µA', 's', 2e-3, () =>
    softStartTime.compute(RAMP),
  ),
  check('I = C dV/dt (definition)', 'charging current of 220 µF to 5 V in 2 ms', 'A', 0.55, () =>
    chargingCurrent.compute({ ...RAMP, output: 220e-6, vOut: 5 }),
  ),
  check(LOCKED, 'turns on above', 'V', 9.9378641, () => lockOutOn.compute(LOCK_OUT)),
  check(LOCKED, 'turns off below', 'V', 9.0378641, () => lockOutOff.compute(LOCK_OUT)),
  check(LOCKED, 'turns off below, thresholds 1.2 and 1.1 V without current', 'V', 9.1097087, () =>
    lockOutOff.compute({ ...LOCK_OUT, falling: 1.1, hysteresis: 0 }),
  ),
  check('Feedback divider (definition)', 'output of 45.3 kΩ over 10 kΩ at 0.6 V', 'V', 3.318, () =>
    trimmerLeast.compute({ reference: 0.6, upper: 45.3e3, lower: 10e3, trimmer: 0 }),
  ),
];
