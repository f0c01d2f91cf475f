import { OBJECTIVES } from '@yundro/core';
import { Button } from 'react-bootstrap';
import { askDesign, stopDesign, useDesigning, useWishes } from './designing';
import { OBJECTIVE_WORDS } from './proposalWords';

/** Asks for a design from records: by what it is to be chosen, and whether after every edit. */
export function DesignBar() {
  const asked = useDesigning((state) => state.asked);
  const share = useDesigning((state) => state.share);
  const leading = useDesigning((state) => state.leading);
  const { objective, always } = useWishes();
  return (
    <span className="design-bar" role="group" aria-label="Design from records">
      {asked ? (
        <>
          <progress max={1} value={share} aria-label="Design under way" />
          <span className="quiet small">
            designing, {(100 * share).toFixed(0)} %{leading !== undefined && `; ahead: ${leading}`}
          </span>
          <Button variant="plain" onClick={stopDesign}>
            Stop designing
          </Button>
        </>
      ) : (
        <Button variant="outline-secondary" size="sm" onClick={() => askDesign()}>
          Design from records
        </Button>
      )}
      <label className="small">
        for{' '}
        <select
          className="pick"
          value={objective}
          onChange={({ target }) =>
            useWishes.setState({ objective: OBJECTIVES.find((one) => one === target.value) ?? 'balanced' })
          }
        >
          {OBJECTIVES.map((one) => (
            <option key={one} value={one}>
              {OBJECTIVE_WORDS[one]}
            </option>
          ))}
        </select>
      </label>
      <label className="small">
        <input
          type="checkbox"
          checked={always}
          onChange={({ target }) => useWishes.setState({ always: target.checked })}
        />{' '}
        after every edit
      </label>
    </span>
  );
}
