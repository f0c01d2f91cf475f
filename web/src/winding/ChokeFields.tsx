import { SHAPE_WORDS, type ChokeSpec, type Conductor, type PartOf } from '@yundro/core';
import { InlineQuantity } from '../fields/InlineQuantity';

interface Props {
  readonly spec: ChokeSpec;
  readonly cores: readonly PartOf<'core'>[];
  readonly onPut: (spec: ChokeSpec) => void;
}

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
    </fieldset>
  );
}
