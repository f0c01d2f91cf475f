import { conductorWords, formatQuantity, FRINGING_WORDS } from '@yundro/core';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { ShareState } from '../engine/ShareState';
import { useShare } from '../engine/useShare';
import { PickField } from '../fields/PickField';
import type { FoundChoke, FoundChokes } from '../engine/windingSurvey';
import { Answered } from '../shown/Answered';
import { DataTable, type DataColumn } from '../shown/DataTable';
import { searchChart } from './chokeCharts';
import { useChokeWork } from './useChokeWork';
import { useWinding } from './winding';
import type { WindingFramed } from './WindingStation';

const CM3 = 1e-6;
const FRINGINGS = ['edge', 'logarithm'] as const;
const BEST = { loss: 'loss', volume: 'size', price: 'price' } as const;

const COLUMNS: readonly DataColumn<FoundChoke>[] = [
  { key: 'core', words: 'core', value: ({ spec }) => spec.core },
  { key: 'turns', words: 'turns', unit: '', value: ({ spec }) => spec.turns },
  { key: 'conductor', words: 'conductor', value: ({ spec }) => conductorWords(spec.conductor) },
  {
    key: 'gap',
    words: 'gap',
    unit: 'm',
    value: ({ spec }) => spec.gap,
    shown: ({ spec }) => (spec.gap > 0 ? `${(1e3 * spec.gap).toFixed(2)} mm` : 'none'),
  },
  {
    key: 'loss',
    words: 'loss',
    unit: 'W',
    value: ({ loss }) => loss,
    shown: ({ loss }) => formatQuantity(loss, 'W', 3),
  },
  {
    key: 'volume',
    words: 'cm³',
    unit: '',
    value: ({ volume }) => volume / CM3,
    shown: ({ volume }) => (volume / CM3).toPrecision(3),
  },
  { key: 'price', words: 'price', unit: '', value: ({ price }) => price, shown: ({ price }) => price.toFixed(2) },
  {
    key: 'temperature',
    words: 'gets',
    unit: '°C',
    value: ({ worked }) => worked.worst.temperature,
    shown: ({ worked }) => `${worked.worst.temperature.toFixed(0)} °C`,
  },
  {
    key: 'density',
    words: 'T at limit',
    unit: 'T',
    value: ({ worked }) => worked.atLimit.density,
    shown: ({ worked }) => `${worked.atLimit.density.toFixed(2)} of ${worked.atLimit.saturation.toFixed(2)}`,
  },
  {
    key: 'fill',
    words: 'window',
    unit: '',
    value: ({ worked }) => worked.laid.fill,
    shown: ({ worked }) => `${(100 * worked.laid.fill).toFixed(0)} %`,
    folded: true,
  },
  { key: 'best', words: 'best by', value: ({ best }) => best.map((aim) => BEST[aim]).join(', ') },
];

/** The chokes that hold, over the cores of the library. */
export function SearchView({ frame, goTo }: WindingFramed) {
  const { asked, fault, put } = useChokeWork();
  const { fringing, setFringing } = useWinding();
  const question = useMemo(() => asked && { ...asked, fringing }, [asked, fringing]);
  const shared = useShare<NonNullable<typeof question>, FoundChokes | string>(question, (survey, of, tell) =>
    survey.chokeSearch(of.stage, of.cores, of.fringing, tell),
  );
  const take = (found: FoundChoke): void => {
    put(found.spec);
    goTo('choke');
  };
  return frame({
    fields: (
      <fieldset>
        <legend>Reckoned with</legend>
        <Answered of={shared.asked} what="search" wait={null} beside>
          {(found) => typeof found !== 'string' && <Asked of={found} />}
        </Answered>
        <PickField
          id="fringing"
          words="Fringing"
          value={fringing}
          options={FRINGINGS.map((value) => ({ value, words: FRINGING_WORDS[value] }))}
          onPick={setFringing}
        />
      </fieldset>
    ),
    picture: (
      <>
        {fault !== undefined && (
          <p className="notice bad" role="alert">
            {fault}
          </p>
        )}
        <ShareState of={shared} doing="Going through the cores" />
        <Answered of={shared.asked} what="search" wait={null}>
          {(found) =>
            typeof found === 'string' ? (
              <p className="quiet">{found}</p>
            ) : found.designs.length === 0 ? (
              <p>
                No choke on the cores of the library holds what is asked: below stands what was in the way of each. A
                larger core in the library, a lower current limit or more ripple help.
              </p>
            ) : (
              <CurveChart words="Loss and volume of the chokes that hold" {...searchChart(found)} />
            )
          }
        </Answered>
      </>
    ),
    below: (
      <Answered of={shared.asked} what="search" wait={null} beside>
        {(found) => typeof found !== 'string' && <Found found={found} onTake={take} />}
      </Answered>
    ),
  });
}

function Asked({ of: { demand } }: { readonly of: FoundChokes }) {
  return (
    <dl className="figures small">
      <div>
        <dt>At full load</dt>
        <dd>
          {formatQuantity(demand.inductance, 'H', 3)} at {formatQuantity(demand.full, 'A', 3)}
        </dd>
      </div>
      <div>
        <dt>Must hold to</dt>
        <dd>{formatQuantity(demand.limit, 'A', 3)}</dd>
      </div>
      <div>
        <dt>Air about it</dt>
        <dd>{demand.ambient.toFixed(0)} °C</dd>
      </div>
      {demand.unsolved > 0 && (
        <div>
          <dt className="fault">left out</dt>
          <dd className="fault">{demand.unsolved} corners without an operating point</dd>
        </div>
      )}
      {demand.filled.map((what) => (
        <div key={what}>
          <dt className="quiet">taken</dt>
          <dd className="quiet">{what}</dd>
        </div>
      ))}
    </dl>
  );
}

function Found({ found, onTake }: { readonly found: FoundChokes; readonly onTake: (one: FoundChoke) => void }) {
  const { designs, tried, held, passedOver, present } = found;
  return (
    <>
      <p className="small quiet mb-1" role="status">
        {tried} windings looked at, {held} hold, {designs.length} are beaten by none in loss, volume and price at once.
        Now: {present.name}, {formatQuantity(present.loss, 'W', 3)}
        {present.withoutCore && ' without its core, whose loss it does not state'}
        {present.volume !== undefined && `, ${(present.volume / CM3).toPrecision(3)} cm³`}
        {present.price !== undefined && `, ${present.price.toFixed(2)}`}.
      </p>
      {designs.length > 0 && (
        <DataTable
          words="chokes"
          rows={designs}
          rowKey={({ spec }) => `${spec.core} ${String(spec.turns)} ${conductorWords(spec.conductor)}`}
          columns={COLUMNS}
          act={(one) => (
            <Button variant="plain" onClick={() => onTake(one)}>
              Wind
            </Button>
          )}
        />
      )}
      <details className="mt-2">
        <summary>Cores passed over</summary>
        <ul className="small">
          {passedOver.map(({ why, cores }) => (
            <li key={why}>
              {why}: {cores.join(', ')}
            </li>
          ))}
        </ul>
      </details>
    </>
  );
}
