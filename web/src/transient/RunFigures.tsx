import { differsFromLinear, formatQuantity, type Unit } from '@yundro/core';
import type { WorkedRun } from '../engine/transientSurvey';

/** Dips further apart than this differ. */
const SAME = 1.05;

const shown = (value: number, unit: Unit): string => formatQuantity(value, unit, 4);

/** How far the output goes the other way after a release, with the amplifier as it is and limited otherwise. */
function windUp({ run, beside }: WorkedRun): string | undefined {
  if (!beside) return undefined;
  const dips = [run.measures.undershoot, beside.run.measures.undershoot] as const;
  const [wound, held] = beside.limited ? dips : ([dips[1], dips[0]] as const);
  const figures = `After the release the output dips to ${shown(dips[0], 'V')} below where it was; ${beside.words}, to ${shown(dips[1], 'V')}.`;
  const why =
    wound > SAME * held
      ? ' While no pulse is asked for, an integrator that nothing holds winds up below the ramp, and has to come back first when the output falls: a clamp at the lowest useful output shortens that.'
      : ' The limit changes nothing here: the amplifier does not reach it, or is soon back.';
  return figures + why;
}

/** Figures of a run, with the linear prediction beside it where it differs, and where its energy went. */
export function RunFigures({ worked }: { readonly worked: WorkedRun }) {
  const { peakInput } = worked;
  const { measures, energy, settled, notIncluded } = worked.run;
  const rows: readonly (readonly [string, string])[] = [
    ['undershoot', shown(measures.undershoot, 'V')],
    ['overshoot', shown(measures.overshoot, 'V')],
    ['recovered after', shown(measures.recoveryTime, 's')],
    ['peak inductor current', shown(measures.peakInductorCurrent, 'A')],
    ['least inductor current', shown(measures.leastInductorCurrent, 'A')],
    ['output at the end', shown(measures.finalOutputVoltage, 'V')],
    ['rise time', measures.riseTime === null ? '–' : shown(measures.riseTime, 's')],
    ['peak switch voltage', shown(measures.peakSwitchVoltage, 'V')],
    ['peak input voltage', peakInput === undefined ? '–' : shown(peakInput, 'V')],
    ['inrush', `${measures.inrushIntegral.toPrecision(3)} A² s`],
    ['switching frequency', shown(measures.averageSwitchingFrequency, 'Hz')],
    ['out of the source', shown(energy.source, 'J')],
    ['into the load', shown(energy.load, 'J')],
    ['lost', shown(energy.losses, 'J')],
    ['more stored', shown(energy.stored, 'J')],
    ['unaccounted for', `${((100 * energy.residual) / (energy.source || 1)).toExponential(0)} %`],
  ];
  const linear = worked.linear?.deviation;
  const deviation = Math.max(measures.undershoot, measures.overshoot);
  const differs = linear !== undefined && differsFromLinear(deviation, linear);
  const wound = windUp(worked);
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
        Exact between switchings, every switch and diode at its instant. {notIncluded.join(' ')}
      </p>
    </>
  );
}
