import { formatQuantity } from '@yundro/core';
import { WaveformChart } from '../charts/WaveformChart';
import type { Trace, Waveforms } from '../engine/engine';
import { useWorked } from '../engine/useWorked';
import { Answered } from '../shown/Answered';
import { Quantity } from '../shown/Quantity';
import { useHeld, useHeldCorner } from './ghost';
import { useSession } from './stageSession';
import { showTrace, useLayout, type PaneKeys } from './stageView';
import { useLookedAt, type LookedAt } from './useCorner';

const PANE_NAMES = ['upper', 'middle', 'lower'] as const;

/** The waveforms picked, at the corner looked at, with their measures. */
export function WaveformView() {
  const corners = useSession((session) => session.worked?.corners);
  const looked = useLookedAt();
  const panes = useLayout((layout) => layout.panes);
  const asked = useWorked(looked && { ...looked, panes }, (engine, question) =>
    engine.waveforms(question.work, question.corner, question.panes),
  );
  const held = useHeld();
  const heldCorner = useHeldCorner(looked && corners?.[looked.corner]);
  const ghost = useWorked(
    looked && held && heldCorner && { ...looked, work: held.work, corner: heldCorner.index, panes },
    (engine, question) => engine.waveforms(question.work, question.corner, question.panes),
  );
  /** The held design's waveforms, where they are of the corner and panes that are drawn. */
  const besides = (drawn: LookedAt & { readonly panes: PaneKeys }) => {
    const { question, value } = ghost.answer ?? {};
    const same =
      question?.inputVoltage === drawn.inputVoltage &&
      question.outputCurrent === drawn.outputCurrent &&
      question.panes === drawn.panes;
    return heldCorner && same ? value : undefined;
  };
  return (
    <Answered of={asked} what="waveforms" wait={<p className="quiet">The waveforms are being worked …</p>}>
      {(waveforms, question) =>
        waveforms ? (
          <>
            <WaveformChart waveforms={waveforms} ghost={besides(question)} />
            <TraceMeasures waveforms={waveforms} />
          </>
        ) : (
          <p className="quiet">The waveforms appear when the stage has an operating point here.</p>
        )
      }
    </Answered>
  );
}

const MEASURES = [
  { key: 'average', words: 'average' },
  { key: 'rms', words: 'RMS' },
  { key: 'peak', words: 'peak' },
  { key: 'valley', words: 'valley' },
  { key: 'ripple', words: 'ripple' },
] as const;

/** Which waveform each pane shows, and what is read off it. */
function TraceMeasures({ waveforms: { traces, known } }: { readonly waveforms: Waveforms }) {
  const panes = useLayout((layout) => layout.panes);
  return (
    <table className="plain measures" aria-label="Measures of the waveforms">
      <thead>
        <tr>
          <th scope="col">waveform</th>
          {MEASURES.map(({ key, words }) => (
            <th scope="col" className="value" key={key}>
              {words}
            </th>
          ))}
          <th
            scope="col"
            className="value"
            title="Moved to and fro in a period by the current without its average: what a capacitor takes up and gives back"
          >
            charge
          </th>
        </tr>
      </thead>
      <tbody>
        {panes.map((key, i) => {
          const trace = traces.find((one) => one.key === key);
          return (
            <tr key={PANE_NAMES[i]}>
              <td>
                <select
                  aria-label={`Waveform of the ${PANE_NAMES[i] ?? ''} pane`}
                  value={trace ? key : ''}
                  onChange={(event) => showTrace(i, event.target.value)}
                >
                  {!trace && <option value="">none</option>}
                  {known.map((one) => (
                    <option key={one.key} value={one.key}>
                      {one.words}
                    </option>
                  ))}
                </select>
              </td>
              {trace && <Values trace={trace} />}
            </tr>
          );
        })}
      </tbody>
      {traces.length > 0 && (
        <tfoot>
          <tr>
            <td colSpan={MEASURES.length + 2}>
              <details>
                <summary>Harmonics</summary>
                <Harmonics traces={traces} />
              </details>
            </td>
          </tr>
        </tfoot>
      )}
    </table>
  );
}

/** Below this share of the waveform's size a measure is rounding, and shown as none. */
const ROUNDING = 1e-9;

function Values({ trace: { measures, unit } }: { readonly trace: Trace }) {
  const largest = Math.max(Math.abs(measures.peak), Math.abs(measures.valley));
  return (
    <>
      {MEASURES.map(({ key }) => (
        <td className="value" key={key}>
          <Quantity value={Math.abs(measures[key]) < ROUNDING * largest ? 0 : measures[key]} unit={unit} />
        </td>
      ))}
      <td className="value">{unit === 'A' ? <Quantity value={measures.charge} unit="C" /> : '–'}</td>
    </>
  );
}

/** Amplitudes of the harmonics of the switching frequency, zero to peak. */
function Harmonics({ traces }: { readonly traces: readonly Trace[] }) {
  const orders = traces[0]?.measures.harmonics ?? [];
  return (
    <table className="plain" aria-label="Harmonics">
      <thead>
        <tr>
          <th scope="col">amplitude at</th>
          {orders.map(({ order, frequency }) => (
            <th scope="col" className="value" key={order} title={`harmonic ${String(order)}`}>
              {formatQuantity(frequency, 'Hz', 3)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {traces.map(({ key, words, unit, measures }) => (
          <tr key={key}>
            <td>{words}</td>
            {measures.harmonics.map(({ order, amplitude }) => (
              <td className="value" key={order}>
                <Quantity value={amplitude} unit={unit} digits={3} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
