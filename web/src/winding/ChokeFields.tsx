import {
  CORE_MATERIALS,
  gaugeDiameter,
  GAUGES,
  MATERIALS,
  METRIC_DIAMETERS,
  ownRing,
  SHAPE_WORDS,
  type ChokeSpec,
  type Conductor,
  type OwnRing,
  type PartOf,
} from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { InlineQuantity } from '../fields/InlineQuantity';
import { Rare } from '../station/Rare';
import { useToLibrary } from './useToLibrary';

interface Props {
  readonly spec: ChokeSpec;
  readonly cores: readonly PartOf<'core'>[];
  readonly onPut: (spec: ChokeSpec) => void;
}

/** Wires by the tables: metric, then by gauge. */
const TABLES = [
  ...METRIC_DIAMETERS.map((diameter) => ({
    diameter,
    words: `${Number((1e3 * diameter).toPrecision(3)).toString()} mm`,
  })),
  ...GAUGES.map((gauge) => ({ diameter: gaugeDiameter(gauge), words: `gauge ${String(gauge)}` })),
];

const KINDS: readonly { readonly kind: Conductor['kind']; readonly words: string }[] = [
  { kind: 'wire', words: 'wire' },
  { kind: 'litz', words: 'litz' },
  { kind: 'foil', words: 'foil' },
  { kind: 'board', words: 'board' },
];
const FIRST: Readonly<Record<Conductor['kind'], Conductor>> = {
  wire: { kind: 'wire', diameter: 1e-3, strands: 1 },
  litz: { kind: 'litz', diameter: 0.1e-3, strands: 100 },
  foil: { kind: 'foil', thickness: 0.2e-3 },
  board: { kind: 'board', thickness: 70e-6, perLayer: 2 },
};
const whole = (value: number, most: number): number => Math.min(most, Math.max(1, Math.round(Math.abs(value))));
const length = (value: number, least: number, most: number): number => Math.min(most, Math.max(least, Math.abs(value)));

/** What a choke is wound of: core, turns, conductor, gap. */
export function ChokeFields({ spec, cores, onPut }: Props) {
  const put = (part: Partial<ChokeSpec>): void => onPut({ ...spec, ...part });
  const { conductor } = spec;
  const ring = cores.find(({ name }) => name === spec.core)?.shape === 'toroid';
  const quantity = (words: string, unit: 'm' | 'count', value: number, take: (value: number) => void) => (
    <div className="field">
      <span>{words}</span>
      <span>
        <InlineQuantity label={words} unit={unit} value={value} onTake={take} />
      </span>
    </div>
  );
  return (
    <fieldset>
      <legend>Wound of</legend>
      <div className="field">
        <label htmlFor="choke-core">Core</label>
        <select
          id="choke-core"
          className="pick"
          value={spec.core}
          onChange={({ target }) => {
            const of = cores.find(({ name }) => name === target.value);
            put({
              core: target.value,
              beside: undefined,
              // A ring has no gap to be ground, and no window for foil.
              ...(of?.shape === 'toroid' && { gap: 0, step: undefined }),
              ...(of?.shape === 'toroid' &&
                (conductor.kind === 'foil' || conductor.kind === 'board') && { conductor: FIRST.wire }),
            });
          }}
        >
          {!cores.some(({ name }) => name === spec.core) && <option value={spec.core}>{spec.core}</option>}
          {cores
            .filter(({ shape, windowBreadth }) => shape !== undefined && windowBreadth !== undefined)
            .map(({ name, shape, material }) => (
              <option key={name} value={name}>
                {name}, {shape && SHAPE_WORDS[shape]}, {material}
              </option>
            ))}
        </select>
      </div>
      {ring && (
        <div className="field">
          <label htmlFor="choke-beside">With</label>
          <select
            id="choke-beside"
            className="pick"
            value={spec.beside ?? ''}
            onChange={({ target }) => put({ beside: target.value === '' ? undefined : target.value })}
          >
            <option value="">no second ring</option>
            {cores
              .filter(({ shape }) => shape === 'toroid')
              .map(({ name, material }) => (
                <option key={name} value={name}>
                  {name}, {material}
                </option>
              ))}
          </select>
        </div>
      )}
      {quantity('Turns', 'count', spec.turns, (value) => put({ turns: whole(value, 1000) }))}
      <div className="field">
        <label htmlFor="choke-conductor">Conductor</label>
        <select
          id="choke-conductor"
          className="pick"
          value={conductor.kind}
          onChange={({ target }) => put({ conductor: FIRST[target.value as Conductor['kind']] })}
        >
          {KINDS.filter(({ kind }) => !ring || kind === 'wire' || kind === 'litz').map(({ kind, words }) => (
            <option key={kind} value={kind}>
              {words}
            </option>
          ))}
        </select>
      </div>
      {conductor.kind === 'wire' || conductor.kind === 'litz' ? (
        <>
          {quantity('Diameter', 'm', conductor.diameter, (value) =>
            put({ conductor: { ...conductor, diameter: length(value, 1e-5, 0.02) } }),
          )}
          {conductor.kind === 'wire' && (
            <div className="field">
              <label htmlFor="choke-wire">of the tables</label>
              <select
                id="choke-wire"
                className="pick"
                value={TABLES.findIndex(({ diameter }) => Math.abs(diameter / conductor.diameter - 1) < 1e-3)}
                onChange={({ target }) => {
                  const diameter = TABLES[Number(target.value)]?.diameter;
                  if (diameter !== undefined) put({ conductor: { ...conductor, diameter } });
                }}
              >
                <option value={-1}>none of them</option>
                {TABLES.map(({ words }, k) => (
                  <option key={words} value={k}>
                    {words}
                  </option>
                ))}
              </select>
            </div>
          )}
          {quantity(conductor.kind === 'wire' ? 'Side by side' : 'Strands', 'count', conductor.strands, (value) =>
            put({ conductor: { ...conductor, strands: whole(value, conductor.kind === 'wire' ? 100 : 20_000) } }),
          )}
        </>
      ) : (
        <>
          {quantity('Thickness', 'm', conductor.thickness, (value) =>
            put({ conductor: { ...conductor, thickness: length(value, 1e-6, 0.02) } }),
          )}
          {conductor.kind === 'board' &&
            quantity('Turns to a layer', 'count', conductor.perLayer, (value) =>
              put({ conductor: { ...conductor, perLayer: whole(value, 100) } }),
            )}
        </>
      )}
      {!ring && (
        <>
          {quantity('Gap in all', 'm', spec.gap, (value) => put({ gap: length(value, 0, 0.05) }))}
          <label className="small d-block">
            <input
              type="checkbox"
              checked={spec.gaps === 2}
              onChange={({ target }) => put({ gaps: target.checked ? 2 : 1 })}
            />{' '}
            a spacer under all legs: half the gap thick
          </label>
        </>
      )}
      <OwnRingFields onMade={(name) => put({ core: name, beside: undefined, gap: 0, step: undefined })} />
    </fieldset>
  );
}

/** A ring that lies on the table and not in the library: by its measures. */
function OwnRingFields({ onMade }: { readonly onMade: (core: string) => void }) {
  const [own, setOwn] = useState<OwnRing>({
    name: 'My ring',
    outer: 27e-3,
    inner: 14.5e-3,
    height: 11e-3,
    material: 'alloy-powder',
    permeability: 60,
  });
  const made = ownRing(own);
  const library = useToLibrary('core', ({ name }) => onMade(name));
  const measure = (words: string, unit: 'm' | 'count', key: 'outer' | 'inner' | 'height' | 'permeability') => (
    <div className="field">
      <span>{words}</span>
      <span>
        <InlineQuantity
          label={words}
          unit={unit}
          value={own[key]}
          onTake={(value) => setOwn({ ...own, [key]: Math.abs(value) })}
        />
      </span>
    </div>
  );
  return (
    <Rare words="A ring of your own">
      <div className="field">
        <label htmlFor="own-name">Name</label>
        <input
          id="own-name"
          className="inline-number"
          maxLength={120}
          value={own.name}
          onChange={({ target }) => setOwn({ ...own, name: target.value })}
        />
      </div>
      {measure('Outer diameter', 'm', 'outer')}
      {measure('Inner diameter', 'm', 'inner')}
      {measure('Height', 'm', 'height')}
      <div className="field">
        <label htmlFor="own-material">Material</label>
        <select
          id="own-material"
          className="pick"
          value={own.material}
          onChange={({ target }) => setOwn({ ...own, material: target.value as OwnRing['material'] })}
        >
          {CORE_MATERIALS.map((key) => (
            <option key={key} value={key}>
              {MATERIALS[key].words}
            </option>
          ))}
        </select>
      </div>
      {measure('Permeability', 'count', 'permeability')}
      {typeof made === 'string' && <p className="fault small">{made}</p>}
      <Button
        variant="plain"
        disabled={typeof made === 'string' || own.name.trim() === '' || library.saving}
        onClick={() => typeof made !== 'string' && library.save({ ...made, name: own.name.trim() })}
      >
        Into the library, and wind on it
      </Button>
      <p className="small" role="status">
        {library.said}
      </p>
      <p className="small quiet">
        Not known? Wind ten turns, measure the inductance, and try permeabilities until “without current” says the same.
      </p>
    </Rare>
  );
}
