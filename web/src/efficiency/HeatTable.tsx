import { formatQuantity, SWITCH_WORDS, type SwitchPlace } from '@yundro/core';
import { QuantityField } from '../fields/QuantityField';
import { useSession } from '../stage/stageSession';
import { openWorking } from '../stage/stageView';

/** The hottest each device gets over the corners, and how its heat leaves it. */
export function HeatTable() {
  const corners = useSession((session) => session.worked?.corners) ?? [];
  const places = [...new Set(corners.flatMap(({ point }) => Object.keys(point?.junctionTemperatures ?? {})))];
  const rows = places.map((place) => {
    const all = corners.flatMap(({ point }, corner) => {
      const temperature = point?.junctionTemperatures[place];
      return temperature === undefined ? [] : [{ corner, temperature }];
    });
    const away = all.find(({ temperature }) => temperature === null);
    return { place, worst: away ?? all.reduce((a, b) => ((b.temperature ?? 0) > (a.temperature ?? 0) ? b : a)) };
  });
  return (
    <>
      {rows.length === 0 ? (
        <p className="quiet">
          No device states how its heat leaves it: give its thermal resistance in the Switches station, or choose a
          part.
        </p>
      ) : (
        <table className="plain" aria-label="Junctions">
          <thead>
            <tr>
              <th>device</th>
              <th className="number">hottest junction</th>
              <th>at</th>
              <th>
                <span className="visually-hidden">what can be done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ place, worst: { corner, temperature } }) => (
              <tr key={place}>
                <td>{SWITCH_WORDS[place as SwitchPlace]}</td>
                <td className="number">
                  {temperature === null ? <b>thermal runaway</b> : formatQuantity(temperature, 'degC', 3)}
                </td>
                <td>
                  {formatQuantity(corners[corner]?.inputVoltage ?? 0, 'V', 3)},{' '}
                  {formatQuantity(corners[corner]?.outputCurrent ?? 0, 'A', 3)}
                </td>
                <td>
                  {temperature !== null && (
                    <button
                      type="button"
                      className="link"
                      onClick={() => openWorking({ corner, figure: `junctionTemperatures.${place}` })}
                    >
                      Working
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <div className="columns mt-3">
        <fieldset>
          <legend>Cooling of each switch</legend>
          <QuantityField path={['parts', 'cooling', 'copperArea']} label="Copper area" optional />
          <QuantityField path={['parts', 'cooling', 'copperSides']} label="Cooled sides" optional />
          <QuantityField path={['parts', 'cooling', 'heatsink']} label="Heatsink" optional />
          <QuantityField path={['parts', 'cooling', 'pad']} label="Interface pad" optional />
        </fieldset>
        <p className="small quiet wide">
          A heatsink counts before a copper area, and that before the figure of the record; both need the resistance
          from junction to case. Copper is worked as a fin of 35 µm foil in still air, 10 W/(m² K) (common practice, 8
          to 12): on the safe side, as the board beside it helps.
        </p>
      </div>
      <p className="caution mb-0 mt-2">
        <strong>Caution.</strong> Tabs of switches sit at different potentials, the switch node among them: on a common
        heatsink each needs its insulation. Junctions above 100 °C make a board hot enough to burn a finger.
      </p>
    </>
  );
}
