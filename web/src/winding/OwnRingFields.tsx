import { CORE_MATERIALS, MATERIALS, ownRing, type OwnRing } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { InlineField } from '../fields/InlineField';
import { PickField } from '../fields/PickField';
import { Rare } from '../station/Rare';
import { useToLibrary } from './useToLibrary';

/** A measure of a ring, m. */
const MEASURE = [1e-3, 0.5] as const;
const MEASURES = [
  { key: 'outer', words: 'Outer diameter' },
  { key: 'inner', words: 'Inner diameter' },
  { key: 'height', words: 'Height' },
] as const;

/** A ring that lies on the table and not in the library: by its measures. */
export function OwnRingFields({ onMade }: { readonly onMade: (core: string) => void }) {
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
      {MEASURES.map(({ key, words }) => (
        <InlineField
          key={key}
          words={words}
          unit="m"
          value={own[key]}
          range={MEASURE}
          onTake={(value) => setOwn({ ...own, [key]: value })}
        />
      ))}
      <PickField
        id="own-material"
        words="Material"
        value={own.material}
        options={CORE_MATERIALS.map((value) => ({ value, words: MATERIALS[value].words }))}
        onPick={(material) => setOwn({ ...own, material })}
      />
      <InlineField
        words="Permeability"
        unit="count"
        value={own.permeability}
        range={[1, 1e5]}
        onTake={(permeability) => setOwn({ ...own, permeability })}
      />
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
