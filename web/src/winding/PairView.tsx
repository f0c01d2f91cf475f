import { formatQuantity, pairOnCore, type PairGeometry, type Unit } from '@yundro/core';
import { useState } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { InlineField } from '../fields/InlineField';
import { useWorkedStage } from '../stage/useCorner';
import type { WindingFramed } from './WindingStation';

const FIRST: PairGeometry = {
  turns: 4,
  outerArea: 40e-6,
  middleArea: 80e-6,
  outerLength: 0.045,
  middleLength: 0.015,
  permeability: 2200,
  outerGap: 0.1e-3,
  middleGap: 0.4e-3,
};
/** What may be typed, m² and m. */
const AREA = [1e-7, 0.1] as const;
const LENGTH = [1e-4, 1] as const;
const GAP = [0, 0.05] as const;
const FIELDS: readonly {
  readonly key: keyof PairGeometry;
  readonly words: string;
  readonly unit: Unit;
  readonly range: readonly [number, number];
}[] = [
  { key: 'turns', words: 'Turns of each', unit: 'count', range: [1, 1000] },
  { key: 'outerArea', words: 'Area, outer leg', unit: 'm²', range: AREA },
  { key: 'middleArea', words: 'Area, middle leg', unit: 'm²', range: AREA },
  { key: 'outerLength', words: 'Path, outer', unit: 'm', range: LENGTH },
  { key: 'middleLength', words: 'Path, middle', unit: 'm', range: LENGTH },
  { key: 'permeability', words: 'Permeability', unit: 'count', range: [1, 1e5] },
  { key: 'outerGap', words: 'Gap, outer legs', unit: 'm', range: GAP },
  { key: 'middleGap', words: 'Gap, middle leg', unit: 'm', range: GAP },
];
/** Shares of the current by which one winding carries more and the other less. */
const IMBALANCE = Array.from({ length: 21 }, (_, k) => k / 40);

/** Two windings on the outer legs of one core: coupling from the geometry, and the flux with equal and unequal currents. */
export function PairView({ frame }: WindingFramed) {
  const worked = useWorkedStage();
  const [geometry, setGeometry] = useState(FIRST);
  const [saturates, setSaturates] = useState(0.35);
  const { outputCurrent } = worked?.stage.targets ?? {};
  const phases = Math.max(2, worked?.stage.phases ?? 2);
  const [typed, setTyped] = useState<number>();
  const current = typed ?? (outputCurrent?.max ?? 20) / phases;
  const even = pairOnCore(geometry, [current, current]);
  const at = (share: number) => pairOnCore(geometry, [current * (1 + share), current * (1 - share)]);
  const most = Math.max(saturates, ...IMBALANCE.map((share) => at(share).outerDensity), even.middleDensity);
  return frame({
    fields: (
      <fieldset>
        <legend>The core</legend>
        {FIELDS.map(({ key, words, unit, range }) => (
          <InlineField
            key={key}
            words={words}
            unit={unit}
            value={geometry[key]}
            range={range}
            onTake={(value) => setGeometry({ ...geometry, [key]: value })}
          />
        ))}
        <InlineField words="Current of each" unit="A" value={current} range={[1e-3, 1e4]} onTake={setTyped} />
        <InlineField words="Material bears" unit="T" value={saturates} range={[0.01, 3]} onTake={setSaturates} />
      </fieldset>
    ),
    picture: (
      <>
        <p role="status" className="mb-1">
          {formatQuantity(even.inductance, 'H', 3)} each, coupled {even.coefficient.toFixed(3)} inversely,{' '}
          {formatQuantity(even.leakage, 'H', 3)} leak and carry what both have in common.
        </p>
        <CurveChart
          words="Flux density against how unequal the currents are"
          x={{ words: 'one carries more, the other less, by', unit: 'ratio', min: 0, max: 0.5, step: 0.1 }}
          y={{ words: 'flux density', unit: 'T', min: 0, max: 1.15 * most }}
          curves={[
            {
              words: 'outer legs',
              x: [...IMBALANCE],
              y: IMBALANCE.map((share) => at(share).outerDensity),
              colour: '--trace-1',
              dash: [],
              labelAt: 0.35,
              labelAbove: true,
            },
            {
              words: 'middle leg',
              x: [...IMBALANCE],
              y: IMBALANCE.map((share) => at(share).middleDensity),
              colour: '--trace-2',
              dash: [6, 3],
              labelAt: 0.15,
            },
          ]}
          marks={[]}
          regions={[{ fromY: saturates, words: 'saturated', limit: true }]}
        />
        <p className="small quiet">
          Both windings drive the middle leg the same way, so that their steady fluxes cancel in the ring of the outer
          legs: what is left there is the share of the middle leg. What the currents differ by goes round the outer legs
          alone, and their small gaps are all that limits it. Leakage beside the legs is not counted: it lowers the
          coupling by some percent. Under Phases stands whether coupling is worth it.
        </p>
      </>
    ),
  });
}
