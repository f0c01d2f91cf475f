import { formatQuantity, type SwitchPlace } from '@yundro/core';
import { Quantity } from '../shown/Quantity';
import { useSession } from '../stage/stageSession';
import { openWorking } from '../stage/stageView';
import { useCorner } from '../stage/useCorner';

/** What a loss key of a device means, by its ending. */
const KINDS = [
  ['Conduction', 'conduction, at its temperature'],
  ['BodyDiode', 'body diode in the dead time'],
  ['TurnOn', 'turn-on'],
  ['TurnOff', 'turn-off'],
  ['OutputCharge', 'output charge, its own and the other’s'],
  ['Recovery', 'recovery of the other diode'],
  ['Leakage', 'leakage'],
  ['Gate', 'gate, lost in the driver'],
] as const;

/** Where the watts of one device go at the corner looked at, and how warm it gets. */
export function DeviceLosses({ place }: { readonly place: SwitchPlace }) {
  const corners = useSession((session) => session.worked?.corners);
  const corner = useCorner();
  const point = corner === undefined ? undefined : corners?.[corner]?.point;
  if (!point || corner === undefined) return <p className="quiet">There is no operating point at this corner.</p>;
  const rows = KINDS.flatMap(([ending, words]) => {
    const watts = point.losses[`${place}${ending}`];
    return watts === undefined || watts === 0 ? [] : [{ key: `losses.${place}${ending}`, words, watts }];
  });
  const most = Math.max(...rows.map(({ watts }) => watts), 1e-12);
  const sum = rows.reduce((total, { watts }) => total + watts, 0);
  const temperature = point.junctionTemperatures[place];
  return (
    <table className="plain" aria-label="Losses of the device">
      <thead>
        <tr>
          <th>lost in</th>
          <th className="number">all phases</th>
          <th aria-hidden />
        </tr>
      </thead>
      <tbody>
        {rows.map(({ key, words, watts }) => (
          <tr key={key}>
            <td>
              <button type="button" className="link" onClick={() => openWorking({ corner, figure: key })}>
                {words}
              </button>
            </td>
            <td className="number">
              <Quantity value={watts} unit="W" digits={3} />
            </td>
            <td className="bar-cell" aria-hidden>
              <span className="loss-bar" style={{ width: `${((100 * watts) / most).toFixed(1)}%` }} />
            </td>
          </tr>
        ))}
        <tr>
          <td>together</td>
          <td className="number">
            <Quantity value={sum} unit="W" digits={3} />
          </td>
          <td />
        </tr>
        <tr>
          <td>
            {typeof temperature === 'number' ? (
              <button
                type="button"
                className="link"
                onClick={() => openWorking({ corner, figure: `junctionTemperatures.${place}` })}
              >
                junction
              </button>
            ) : (
              'junction'
            )}
          </td>
          <td className="number">
            {temperature === null
              ? 'thermal runaway'
              : temperature === undefined
                ? 'no heat path stated'
                : formatQuantity(temperature, 'degC', 3)}
          </td>
          <td />
        </tr>
      </tbody>
    </table>
  );
}
