import { coverageHalfWidth } from '../src/uncertainty/coverageInterval.js';
import { propagate } from '../src/uncertainty/propagate.js';
import { coverageFactor } from '../src/uncertainty/studentT.js';
import { correlationOf, meanOf } from '../src/uncertainty/typeA.js';
import type { OutsideCheck } from './outsideCheck.js';

const IMPEDANCE =
  'JCGM 100:2008, Guide to the expression of uncertainty in measurement, annex H.2 (simultaneous resistance and reactance measurement)';
const GAUGE = 'JCGM 100:2008, Guide to the expression of uncertainty in measurement, annex H.1 (end-gauge calibration)';
const TABLE = 'JCGM 100:2008, Guide to the expression of uncertainty in measurement, table G.2';
const DISTRIBUTIONS =
  'JCGM 101:2008, Propagation of distributions using a Monte Carlo method, clause 9.2 (additive model)';

/** Table H.2: five sets of readings. */
const READINGS = [
  [5.007, 4.994, 5.005, 4.99, 4.999],
  [19.663, 19.639, 19.64, 19.685, 19.678].map((milli) => milli / 1000),
  [1.0456, 1.0438, 1.0468, 1.0428, 1.0433],
];
const impedance = () =>
  propagate(
    READINGS.map(meanOf),
    ([v = 0, i = 1, angle = 0]) => [(v / i) * Math.cos(angle), (v / i) * Math.sin(angle), v / i],
    READINGS.map((a) => READINGS.map((b) => correlationOf(a, b))),
  );

/** Table H.1, nm with degrees of freedom. */
const gauge = () =>
  propagate(
    [
      { value: 0, standard: 25, degrees: 18 },
      { value: 0, standard: 9.7, degrees: 25.6 },
      { value: 0, standard: 2.9, degrees: 50 },
      { value: 0, standard: 16.6, degrees: 2 },
    ],
    (values) => [values.reduce((sum, one) => sum + one, 0)],
  );

const check = (
  source: string,
  quantity: string,
  unit: string,
  expected: number,
  absolute: number,
  computed: () => number | undefined,
): OutsideCheck => ({
  source,
  quantity,
  unit,
  expected,
  relative: 0,
  absolute,
  computed: () => computed() ?? NaN,
});

const even = (standard: number) => ({ words: '', standard, shape: 'rectangular' as const });

/** Uncertainties against the worked examples of the guide and of its first supplement. */
export const uncertaintyChecks: readonly OutsideCheck[] = [
  check(IMPEDANCE, 'resistance', 'ohm', 127.732, 5e-4, () => impedance().values[0]),
  check(IMPEDANCE, 'reactance', 'ohm', 219.847, 5e-4, () => impedance().values[1]),
  check(IMPEDANCE, 'impedance', 'ohm', 254.26, 5e-3, () => impedance().values[2]),
  check(IMPEDANCE, 'standard uncertainty of the resistance', 'ohm', 0.071, 5e-4, () => impedance().standard[0]),
  // 0.2956 from the readings: the guide works on from rounded deviations.
  check(IMPEDANCE, 'standard uncertainty of the reactance', 'ohm', 0.295, 1e-3, () => impedance().standard[1]),
  check(IMPEDANCE, 'standard uncertainty of the impedance', 'ohm', 0.236, 5e-4, () => impedance().standard[2]),
  check(IMPEDANCE, 'correlation of resistance and reactance', '', -0.588, 5e-4, () => impedance().correlation[0]?.[1]),
  check(IMPEDANCE, 'correlation of resistance and impedance', '', -0.485, 1e-3, () => impedance().correlation[0]?.[2]),
  check(IMPEDANCE, 'correlation of reactance and impedance', '', 0.993, 5e-4, () => impedance().correlation[1]?.[2]),
  check(GAUGE, 'combined standard uncertainty', 'nm', 32, 0.5, () => gauge().standard[0]),
  check(GAUGE, 'effective degrees of freedom', '', 16.7, 0.6, () => gauge().degrees[0]),
  check(GAUGE, 'coverage factor at 99 %, 16 degrees of freedom', '', 2.92, 5e-3, () => coverageFactor(0.99, 16)),
  check(TABLE, 'coverage factor at 95 %, 1 degree of freedom', '', 12.71, 5e-3, () => coverageFactor(0.95, 1)),
  check(TABLE, 'coverage factor at 95 %, 50 degrees of freedom', '', 2.01, 5e-3, () => coverageFactor(0.95, 50)),
  check(TABLE, 'coverage factor at 95 %, no end of degrees', '', 1.96, 5e-3, () => coverageFactor(0.95)),
  check(DISTRIBUTIONS, 'half width at 95 %, four equal rectangular errors', '', 3.88, 0.05, () =>
    coverageHalfWidth([even(1), even(1), even(1), even(1)]),
  ),
  check(DISTRIBUTIONS, 'half width at 95 %, one of them ten times as wide', '', 17, 0.15, () =>
    coverageHalfWidth([even(1), even(1), even(1), even(10)]),
  ),
];
