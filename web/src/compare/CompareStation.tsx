import { formatQuantity, type Verdict } from '@yundro/core';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import type { Worked } from '../engine/engine';
import { useLedger } from '../ledger/judgements';
import { cornerLike, holdPresent, letGo, nameHeld, showBeside, useAllHeld, useHeld } from '../stage/ghost';
import { useShownFigures } from '../stage/shownFigures';
import { useSession } from '../stage/stageSession';
import { useLookedAt } from '../stage/useCorner';
import { marginDifferences, valueDifferences, type Difference } from './differences';

const NONE: readonly Verdict[] = [];

/** All in which the held designs and the present one differ: values, figures of the corner looked at, margins. */
export function CompareStation() {
  const held = useAllHeld();
  const beside = useHeld();
  const present = useSession((session) => session.worked);
  const looked = useLookedAt();
  const figures = useShownFigures();
  const groups = useLedger();
  const designs = useMemo(
    (): readonly Worked[] => (present ? [present, ...held.map(({ worked }) => worked)] : []),
    [present, held],
  );
  const values = useMemo(() => valueDifferences(designs.map(({ stage }) => stage)), [designs]);
  const margins = useMemo(
    () => marginDifferences(designs.map(({ evaluation }) => evaluation?.verdicts ?? NONE)),
    [designs],
  );
  const atCorner = figures.flatMap(({ words, unit, value }): readonly Difference[] => {
    const points = designs.map((one) => cornerLike(one, looked)?.corner.point);
    const texts = points.map((point) => (point ? formatQuantity(value(point), unit, 4) : '–'));
    return texts.every((text) => text === texts[0]) ? [] : [{ what: words, values: texts }];
  });
  const head = (
    <header className="station-head">
      <h1>Compare</h1>
      <span className="quiet">the present design beside those that are held; they last while the stage is open</span>
    </header>
  );
  if (held.length === 0 || !present)
    return (
      <>
        {head}
        <p className="quiet mt-2">
          Nothing is held. Hold the present design, change something, and every difference stands here.
        </p>
        <Button variant="primary" onClick={() => void holdPresent()}>
          Hold this design
        </Button>
      </>
    );
  const same = values.length + margins.length + atCorner.length === 0;
  return (
    <>
      {head}
      {same && <p className="quiet">They do not differ in anything that is shown.</p>}
      <table className="plain compare" aria-label="Differences">
        <thead>
          <tr>
            <th>what</th>
            <th className="number">present</th>
            {held.map(({ name, worked }) => (
              <th key={worked.work} className="number">
                <input
                  aria-label={`Name of ${name}`}
                  className="pick"
                  size={12}
                  value={name}
                  onChange={(event) => nameHeld(worked.work, event.target.value)}
                />
                <span className="d-block">
                  <Button
                    variant="plain"
                    className="small"
                    aria-pressed={beside?.work === worked.work}
                    onClick={() => showBeside(worked.work)}
                  >
                    {beside?.work === worked.work ? 'shown beside' : 'Show beside'}
                  </Button>
                  <Button
                    variant="plain"
                    className="small"
                    aria-label={`Let ${name} go`}
                    onClick={() => void letGo(worked.work)}
                  >
                    Let go
                  </Button>
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <Rows title="Values of the design" rows={values} />
        <Rows
          title={
            looked
              ? `At ${formatQuantity(looked.inputVoltage, 'V', 3)}, ${formatQuantity(looked.outputCurrent, 'A', 3)}`
              : 'At the corner looked at'
          }
          rows={atCorner}
        />
        <Rows title="Margins of the steady state, parts as stated" rows={margins} />
      </table>
      {groups.unjudged.length > 0 && (
        <p className="quiet small">
          Not judged, and not compared: {groups.unjudged.map(({ quantity }) => quantity).join(', ')}.
        </p>
      )}
    </>
  );
}

function Rows({ title, rows }: { readonly title: string; readonly rows: readonly Difference[] }) {
  if (rows.length === 0) return null;
  return (
    <tbody>
      <tr>
        <th scope="rowgroup" colSpan={1 + (rows[0]?.values.length ?? 1)}>
          {title}
        </th>
      </tr>
      {rows.map(({ what, values }, row) => (
        <tr key={row}>
          <td>{what}</td>
          {values.map((value, k) => (
            <td key={k} className="number">
              {value}
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  );
}
