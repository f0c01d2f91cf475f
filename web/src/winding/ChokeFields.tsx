import {
  gaugeDiameter,
  GAUGES,
  METRIC_DIAMETERS,
  SHAPE_WORDS,
  type ChokeSpec,
  type Conductor,
  type PartOf,
} from '@yundro/core';
import { InlineField } from '../fields/InlineField';
import { PickField } from '../fields/PickField';
import { OwnRingFields } from './OwnRingFields';

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
const OTHER = 'none of them';
const isThat = (a: number, b: number): boolean => Math.abs(a / b - 1) < 1e-3;

const KINDS = ['wire', 'litz', 'foil', 'board'] as const;
const FIRST: Readonly<Record<Conductor['kind'], Conductor>> = {
  wire: { kind: 'wire', diameter: 1e-3, strands: 1 },
  litz: { kind: 'litz', diameter: 0.1e-3, strands: 100 },
  foil: { kind: 'foil', thickness: 0.2e-3 },
  board: { kind: 'board', thickness: 70e-6, perLayer: 2 },
};
const isRound = (kind: Conductor['kind']): boolean => kind === 'wire' || kind === 'litz';
const NO_SECOND = '';

/** What a choke is wound of: core, turns, conductor, gap. */
export function ChokeFields({ spec, cores, onPut }: Props) {
  const put = (part: Partial<ChokeSpec>): void => onPut({ ...spec, ...part });
  const { conductor } = spec;
  const isRing = (core: string): boolean => cores.find(({ name }) => name === core)?.shape === 'toroid';
  const ring = isRing(spec.core);
  const wound = cores.filter(({ shape, windowBreadth }) => shape !== undefined && windowBreadth !== undefined);
  return (
    <fieldset>
      <legend>Wound of</legend>
      <PickField
        id="choke-core"
        words="Core"
        value={spec.core}
        options={[
          ...(wound.some(({ name }) => name === spec.core) ? [] : [{ value: spec.core, words: spec.core }]),
          ...wound.map(({ name, shape, material }) => ({
            value: name,
            words: `${name}, ${shape ? SHAPE_WORDS[shape] : ''}, ${material}`,
          })),
        ]}
        onPick={(core) =>
          put({
            core,
            beside: undefined,
            // A ring has no gap to be ground, and no window for foil.
            ...(isRing(core) && { gap: 0, step: undefined }),
            ...(isRing(core) && !isRound(conductor.kind) && { conductor: FIRST.wire }),
          })
        }
      />
      {ring && (
        <PickField
          id="choke-beside"
          words="With"
          value={spec.beside ?? NO_SECOND}
          options={[
            { value: NO_SECOND, words: 'no second ring' },
            ...cores
              .filter(({ shape }) => shape === 'toroid')
              .map(({ name, material }) => ({ value: name, words: `${name}, ${material}` })),
          ]}
          onPick={(beside) => put({ beside: beside === NO_SECOND ? undefined : beside })}
        />
      )}
      <InlineField words="Turns" unit="count" value={spec.turns} range={[1, 1000]} onTake={(turns) => put({ turns })} />
      <PickField
        id="choke-conductor"
        words="Conductor"
        value={conductor.kind}
        options={KINDS.filter((kind) => !ring || isRound(kind)).map((value) => ({ value, words: value }))}
        onPick={(kind) => put({ conductor: FIRST[kind] })}
      />
      {conductor.kind === 'wire' || conductor.kind === 'litz' ? (
        <>
          <InlineField
            words="Diameter"
            unit="m"
            value={conductor.diameter}
            range={[1e-5, 0.02]}
            onTake={(diameter) => put({ conductor: { ...conductor, diameter } })}
          />
          {conductor.kind === 'wire' && (
            <PickField
              id="choke-wire"
              words="of the tables"
              value={TABLES.find(({ diameter }) => isThat(diameter, conductor.diameter))?.words ?? OTHER}
              options={[OTHER, ...TABLES.map(({ words }) => words)].map((value) => ({ value, words: value }))}
              onPick={(picked) => {
                const wire = TABLES.find(({ words }) => words === picked);
                if (wire) put({ conductor: { ...conductor, diameter: wire.diameter } });
              }}
            />
          )}
          <InlineField
            words={conductor.kind === 'wire' ? 'Side by side' : 'Strands'}
            unit="count"
            value={conductor.strands}
            range={conductor.kind === 'wire' ? [1, 100] : [1, 20_000]}
            onTake={(strands) => put({ conductor: { ...conductor, strands } })}
          />
        </>
      ) : (
        <>
          <InlineField
            words="Thickness"
            unit="m"
            value={conductor.thickness}
            range={[1e-6, 0.02]}
            onTake={(thickness) => put({ conductor: { ...conductor, thickness } })}
          />
          {conductor.kind === 'board' && (
            <InlineField
              words="Turns to a layer"
              unit="count"
              value={conductor.perLayer}
              range={[1, 100]}
              onTake={(perLayer) => put({ conductor: { ...conductor, perLayer } })}
            />
          )}
        </>
      )}
      {!ring && (
        <>
          <InlineField words="Gap in all" unit="m" value={spec.gap} range={[0, 0.05]} onTake={(gap) => put({ gap })} />
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
