import { formatQuantity, type CornerLoop, type Margin } from '@yundro/core';
import { useSession } from '../stage/stageSession';
import { lookAt } from '../stage/stageView';
import { useJudgedLoop } from './loopJudgement';
import { useShapedCorners, type ShapedCorner } from './shaping';

interface Row {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  readonly crossover: Margin | undefined;
  readonly phaseMargin: Margin | undefined;
  readonly gainMargin: number | undefined;
  readonly stable: boolean | undefined;
  readonly reason: string | undefined;
}

const exactRow = ({ corner: { inputVoltage, outputCurrent }, loop }: CornerLoop): Row =>
  loop.kind === 'solved'
    ? {
        inputVoltage,
        outputCurrent,
        crossover: loop.crossover,
        phaseMargin: loop.phaseMargin,
        gainMargin: loop.gainMayRise,
        stable: loop.stable,
        reason: undefined,
      }
    : {
        inputVoltage,
        outputCurrent,
        crossover: undefined,
        phaseMargin: undefined,
        gainMargin: undefined,
        stable: undefined,
        reason: loop.reason,
      };

const shapedRow = ({ inputVoltage, outputCurrent, crossover, phaseMargin, gainMargin }: ShapedCorner): Row => ({
  inputVoltage,
  outputCurrent,
  crossover,
  phaseMargin,
  gainMargin: gainMargin.kind === 'found' ? gainMargin.value : undefined,
  stable: undefined,
  reason: undefined,
});

/** Unstable corners first, then by phase margin. */
const badness = ({ stable, phaseMargin, reason }: Row): number =>
  reason !== undefined ? -1e6 : stable === false ? -1e3 : phaseMargin?.kind === 'found' ? phaseMargin.value : -500;

/** Rows shown: the worst, and the best for comparison is the last. */
const SHOWN = 5;

/** The margins of every corner, the worst first; those of a compensator being shaped while it is. */
export function MarginTable() {
  const judged = useJudgedLoop();
  const shaped = useShapedCorners();
  const corners = useSession((session) => session.worked?.corners) ?? [];
  const rows = shaped ? shaped.map(shapedRow) : (judged?.corners.map(exactRow) ?? []);
  if (rows.length === 0) return null;
  const sorted = [...rows].sort((a, b) => badness(a) - badness(b));
  return (
    <table className="plain" aria-label="Margins of every corner">
      <thead>
        <tr>
          <th>
            corner, the worst {Math.min(SHOWN, sorted.length)} of {sorted.length}
            {shaped && ', as shaped'}
          </th>
          <th className="number">crossover</th>
          <th className="number">phase margin</th>
          <th className="number">gain may rise</th>
          <th>stable</th>
        </tr>
      </thead>
      <tbody>
        {sorted.slice(0, SHOWN).map((row) => {
          const { inputVoltage, outputCurrent, crossover, phaseMargin, gainMargin, stable, reason } = row;
          const at = corners.findIndex(
            (one) => one.inputVoltage === inputVoltage && one.outputCurrent === outputCurrent,
          );
          return (
            <tr key={`${String(inputVoltage)} ${String(outputCurrent)}`}>
              <td>
                <button type="button" className="link" onClick={() => lookAt(at)}>
                  {formatQuantity(inputVoltage, 'V', 3)}, {formatQuantity(outputCurrent, 'A', 3)}
                </button>
              </td>
              {reason === undefined ? (
                <>
                  <td className="number">
                    {crossover?.kind === 'found' ? formatQuantity(crossover.value, 'Hz', 3) : '–'}
                  </td>
                  <td className="number">{phaseMargin?.kind === 'found' ? `${phaseMargin.value.toFixed(1)}°` : '–'}</td>
                  <td className="number">{gainMargin === undefined ? '–' : `${gainMargin.toFixed(1)} dB`}</td>
                  <td>{stable === undefined ? '…' : stable ? 'yes' : <b>no</b>}</td>
                </>
              ) : (
                <td colSpan={4} className="quiet">
                  {reason}
                </td>
              )}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
