import { formatQuantity, pairOnCore, type PairGeometry, type Unit } from '@yundro/core';
import { useState, type ReactNode } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { InlineQuantity } from '../fields/InlineQuantity';
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
const FIELDS: readonly { readonly key: keyof PairGeometry; readonly words: string; readonly unit: Unit }[] = [
  { key: 'turns', words: 'Turns of each', unit: 'count' },
  { key: 'outerArea', words: 'Area, outer leg', unit: 'm²' },
  { key: 'middleArea', words: 'Area, middle leg', unit: 'm²' },
  { key: 'outerLength', words: 'Path, outer', unit: 'm' },
  { key: 'middleLength', words: 'Path, middle', unit: 'm' },
  { key: 'permeability', words: 'Permeability', unit: 'count' },
  { key: 'outerGap', words: 'Gap, outer legs', unit: 'm' },
  { key: 'middleGap', words: 'Gap, middle leg', unit: 'm' },
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
  const field = (words: string, unit: Unit, value: number, take: (value: number) => void): ReactNode => (
    <div className="field" key={words}>
      <span>{words}</span>
      <span>
        <InlineQuantity
          label={words}
          unit={unit}
          value={value}
          onTake={(taken) => take(Math.max(1e-9, Math.abs(taken)))}
        />
      </span>
    </div>
  );
  return frame({
    fields: (
      <fieldset>
        <legend>The core</legend>
        {FIELDS.map(({ key, words, unit }) =>
          field(words, unit, geometry[key], (value) =>
            setGeometry({ ...geometry, [key]: key === 'turns' ? Math.max(1, Math.round(value)) : value }),
          ),
        )}
        {field('Current of each', 'A', current, setTyped)}
        {field('Material bears', 'T', saturates, setSaturates)}
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
