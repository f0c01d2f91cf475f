import { differsFromLinear, formatQuantity, type Stage, type Unit } from '@yundro/core';
import type { WorkedRun } from '../engine/transientSurvey';

const shown = (value: number, unit: Unit): string => formatQuantity(value, unit, 4);

/** What the amplifier without limits does after a release, and with them. */
function windUp({ control }: Stage): string | undefined {
  const amplifier = control.compensator?.amplifier;
  if (!amplifier || amplifier.outputMin !== undefined) return undefined;
  return 'The amplifier states no lowest output: its integrator winds up while it asks for less than no pulse, and the output dips when the load has long gone. A clamp at zero shortens that.';
}

/** Figures of a run, with the linear prediction beside it where it differs, and where its energy went. */
export function RunFigures({ worked, stage }: { readonly worked: WorkedRun; readonly stage: Stage }) {
  const { measures, energy, settled } = worked.run;
  const rows: readonly (readonly [string, string])[] = [
    ['undershoot', shown(measures.undershoot, 'V')],
    ['overshoot', shown(measures.overshoot, 'V')],
    ['recovered after', shown(measures.recoveryTime, 's')],
    ['peak inductor current', shown(measures.peakInductorCurrent, 'A')],
    ['least inductor current', shown(measures.leastInductorCurrent, 'A')],
    ['output at the end', shown(measures.finalOutputVoltage, 'V')],
    ['rise time', measures.riseTime === null ? '–' : shown(measures.riseTime, 's')],
    ['out of the source', shown(energy.source, 'J')],
    ['into the load', shown(energy.load, 'J')],
    ['lost', shown(energy.losses, 'J')],
    ['more stored', shown(energy.stored, 'J')],
    ['unaccounted for', `${((100 * energy.residual) / (energy.source || 1)).toExponential(0)} %`],
  ];
  const linear = worked.linear?.deviation;
  const deviation = Math.max(measures.undershoot, measures.overshoot);
  const differs = linear !== undefined && differsFromLinear(deviation, linear);
  const wound = windUp(stage);
  return (
    <>
      <table className="plain small" aria-label="Figures of the run">
        <tbody>
          {Array.from({ length: Math.ceil(rows.length / 3) }, (_, k) => (
            <tr key={rows[3 * k]?.[0]}>
              {rows.slice(3 * k, 3 * k + 3).flatMap(([words, value]) => [
                <th key={words} scope="row" className="quiet">
                  {words}
                </th>,
                <td key={`${words} value`} className="number">
                  {value}
                </td>,
              ])}
            </tr>
          ))}
        </tbody>
      </table>
      {differs && (
        <p className="small">
          The linear step says {formatQuantity(linear, 'V', 3)}; the simulation {formatQuantity(deviation, 'V', 3)}: it
          knows of the slew of the load, of limits and of skipped pulses.
        </p>
      )}
      {wound !== undefined && <p className="small quiet">{wound}</p>}
      {!settled && (
        <p className="small">Before it the stage did not repeat itself from clock to clock: look at its loop first.</p>
      )}
      <p className="small quiet">
        Exact between switchings, every switch and diode at its instant; capacitors at their bias at the regulated
        output.
      </p>
    </>
  );
}
