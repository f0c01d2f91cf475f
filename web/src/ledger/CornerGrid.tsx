import { formatQuantity, marginText } from '@yundro/core';
import { useRef, type KeyboardEvent } from 'react';
import { useSession } from '../stage/stageSession';
import { lookAt } from '../stage/stageView';
import { useCorner } from '../stage/useCorner';
import { Icon } from '../shown/Icon';
import { useCornerMargins } from './judgements';
import { markOfMargin } from './lines';

/** Steps to the neighbouring corner, by key: loads across, inputs down. */
const STEPS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowRight: [1, 0],
  ArrowLeft: [-1, 0],
  ArrowDown: [0, 1],
  ArrowUp: [0, -1],
};

/** Input voltage by load, each corner with the mark of what is nearest to failing there; the one picked is what every station looks at. */
export function CornerGrid() {
  const corners = useSession((session) => session.worked?.corners);
  const margins = useCornerMargins();
  const corner = useCorner();
  const cells = useRef<HTMLDivElement>(null);
  const here = corner === undefined ? undefined : corners?.[corner];
  if (!corners || corner === undefined || !here) return null;
  const inputs = [...new Set(corners.map(({ inputVoltage }) => inputVoltage))];
  const loads = [...new Set(corners.map(({ outputCurrent }) => outputCurrent))];
  const placeOf = (inputVoltage: number | undefined, outputCurrent: number | undefined): number =>
    corners.findIndex((one) => one.inputVoltage === inputVoltage && one.outputCurrent === outputCurrent);
  const step = (event: KeyboardEvent): void => {
    const by = STEPS[event.key];
    if (!by) return;
    event.preventDefault();
    const clamp = (k: number, count: number): number => Math.min(count - 1, Math.max(0, k));
    const to = placeOf(
      inputs[clamp(inputs.indexOf(here.inputVoltage) + by[1], inputs.length)],
      loads[clamp(loads.indexOf(here.outputCurrent) + by[0], loads.length)],
    );
    if (to < 0) return;
    lookAt(to);
    cells.current?.querySelector<HTMLElement>(`[data-corner="${String(to)}"]`)?.focus();
  };
  return (
    <section className="corner-grid" aria-label="Corner looked at">
      <h2 className="small quiet">Corner looked at</h2>
      <div
        ref={cells}
        role="radiogroup"
        aria-label="Corner of input voltage and load"
        style={{ gridTemplateColumns: `repeat(${String(loads.length)}, 1fr)` }}
        onKeyDown={step}
      >
        {inputs.map((inputVoltage) =>
          loads.map((outputCurrent) => {
            const place = placeOf(inputVoltage, outputCurrent);
            const least = margins[place];
            const word = least && markOfMargin(least.margin);
            const says = least
              ? `${word ?? ''}, ${least.quantity} ${least.margin === null ? 'without a number' : marginText(least.margin)}`
              : 'being worked';
            const name = `${formatQuantity(inputVoltage, 'V', 3)}, ${formatQuantity(outputCurrent, 'A', 3)}: ${says}`;
            return (
              <button
                key={`${String(inputVoltage)} ${String(outputCurrent)}`}
                type="button"
                role="radio"
                aria-checked={place === corner}
                aria-label={name}
                title={name}
                tabIndex={place === corner ? 0 : -1}
                className={`cell ${word ?? ''}`}
                data-corner={place}
                onClick={() => lookAt(place)}
              >
                {word !== undefined && word !== 'holds' && <Icon shape={word} />}
              </button>
            );
          }),
        )}
      </div>
      <p className="ends small quiet">
        <span>
          {inputs[0]} to {formatQuantity(inputs.at(-1) ?? 0, 'V', 3)}
        </span>
        <span>to {formatQuantity(loads.at(-1) ?? 0, 'A', 3)}</span>
      </p>
      <p className="here small">
        <b>
          {formatQuantity(here.inputVoltage, 'V', 3)}, {formatQuantity(here.outputCurrent, 'A', 3)}
        </b>
        <span className="quiet">{here.point?.conductionMode ?? 'no point'}</span>
      </p>
    </section>
  );
}
