import { formatQuantity, type CornerLoop, type Margin } from '@yundro/core';
import { Answered } from '../shown/Answered';
import { useSession } from '../stage/stageSession';
import { lookAt } from '../stage/stageView';
import { useAskedLoop } from '../ledger/loopJudgement';
import { useShapedCorners, type ShapedCorner } from './shaping';

interface Row {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  readonly crossover: Margin | undefined;
  readonly phaseMargin: Margin | undefined;
  readonly gainMargin: Margin | undefined;
  /** dB */
  readonly subharmonicMargin: number | undefined;
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
        gainMargin: loop.gainMargin,
        subharmonicMargin: loop.subharmonicMargin,
        stable: loop.stable,
        reason: undefined,
      }
    : {
        inputVoltage,
        outputCurrent,
        crossover: undefined,
        phaseMargin: undefined,
        gainMargin: undefined,
        subharmonicMargin: undefined,
        stable: undefined,
        reason: loop.reason,
      };

const shapedRow = ({ inputVoltage, outputCurrent, crossover, phaseMargin, gainMargin }: ShapedCorner): Row => ({
  inputVoltage,
  outputCurrent,
  crossover,
  phaseMargin,
  gainMargin,
  subharmonicMargin: undefined,
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
  const asked = useAskedLoop();
  const shaped = useShapedCorners();
  if (shaped) return <Margins rows={shaped.map(shapedRow)} shaped />;
  return (
    <Answered of={asked} what="margin" wait={<p className="quiet small">The loop is being judged at every corner …</p>}>
      {(judged) => <Margins rows={judged?.corners.map(exactRow) ?? []} shaped={false} />}
    </Answered>
  );
}

function Margins({ rows, shaped }: { readonly rows: readonly Row[]; readonly shaped: boolean }) {
  const corners = useSession((session) => session.worked?.corners) ?? [];
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
          <th className="number">gain margin</th>
          <th className="number" title="How much the gain may rise until long and short pulses alternate">
            subharmonic margin
          </th>
          <th>stable</th>
        </tr>
      </thead>
      <tbody>
        {sorted.slice(0, SHOWN).map((row) => {
          const { inputVoltage, outputCurrent, crossover, phaseMargin, gainMargin, subharmonicMargin, stable, reason } =
            row;
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
                  <td className="number">{gainMargin?.kind === 'found' ? `${gainMargin.value.toFixed(1)} dB` : '–'}</td>
                  <td className="number">
                    {subharmonicMargin === undefined ? '–' : `${subharmonicMargin.toFixed(1)} dB`}
                  </td>
                  <td>{stable === undefined ? '…' : stable ? 'yes' : <b>no</b>}</td>
                </>
              ) : (
                <td colSpan={5} className="quiet">
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
