import {
  dividers,
  formatQuantity,
  parseQuantity,
  type PreferredSeries,
  type Unit,
  USUAL_TOLERANCES,
} from '@yundro/core';
import { Fragment, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { QuantityField } from '../fields/QuantityField';
import { Quantity } from '../shown/Quantity';
import { useSession } from './stageSession';
import { FormView } from './FormView';

const SERIES: readonly PreferredSeries[] = ['E24', 'E48', 'E96', 'E192'];
/** What the inputs start with: usual parts about 10 kΩ. */
const FIRST = {
  lower: '10k',
  resistorTolerance: `${String(100 * USUAL_TOLERANCES.resistors)} %`,
  referenceTolerance: `${String(100 * USUAL_TOLERANCES.reference)} %`,
  bias: '0',
};
type Input = keyof typeof FIRST;
const INPUTS: readonly { readonly key: Input; readonly words: string; readonly unit: Unit }[] = [
  { key: 'lower', words: 'Lower resistor about', unit: 'ohm' },
  { key: 'resistorTolerance', words: 'Tolerance of the resistors', unit: 'ratio' },
  { key: 'referenceTolerance', words: 'Tolerance of the reference', unit: 'ratio' },
  { key: 'bias', words: 'Bias current into the pin', unit: 'A' },
];

const percent = (share: number): string => `${(100 * share).toFixed(2)} %`;

/** Pairs of preferred resistors for the output voltage, with what they and the reference make of its accuracy. */
export function FeedbackDivider() {
  const vOut = Math.abs(useSession((session) => session.document?.targets.outputVoltage) ?? 0);
  const reference = useSession((session) => session.document?.control.reference);
  const allowed = useSession((session) => session.document?.targets.outputVoltageTolerance);
  const [series, setSeries] = useState<PreferredSeries>('E96');
  const [texts, setTexts] = useState<Readonly<Record<Input, string>>>(FIRST);
  const [open, setOpen] = useState<number>();
  const read = useMemo(
    () => INPUTS.map(({ key, unit }) => ({ key, result: parseQuantity(texts[key], unit) })),
    [texts],
  );
  const found = useMemo(() => {
    const values = Object.fromEntries(read.flatMap(({ key, result }) => (result.ok ? [[key, result.value]] : [])));
    const { lower, resistorTolerance, referenceTolerance, bias } = values;
    if (reference === undefined || lower === undefined || lower <= 0) return [];
    if (resistorTolerance === undefined || referenceTolerance === undefined || bias === undefined) return [];
    return dividers({ vOut, reference, series: [series], lower, resistorTolerance, referenceTolerance, bias });
  }, [read, vOut, reference, series]);
  return (
    <section aria-label="Feedback divider" className="mt-3">
      <h2>Feedback divider</h2>
      <div className="columns">
        <fieldset>
          <QuantityField path={['control', 'reference']} label="Reference voltage" optional />
          <div className="field">
            <label htmlFor="divider-series">Resistor series</label>
            <div className="entry">
              <select
                id="divider-series"
                className="pick"
                value={series}
                onChange={(event) => setSeries(SERIES.find((one) => one === event.target.value) ?? 'E96')}
              >
                {SERIES.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </div>
          </div>
        </fieldset>
        <fieldset>
          {INPUTS.map(({ key, words }) => {
            const wrong = read.find((one) => one.key === key)?.result.ok === false;
            return (
              <div className={`field ${wrong ? 'wrong' : ''}`} key={key}>
                <label htmlFor={`divider-${key}`}>{words}</label>
                <div className="entry">
                  <input
                    id={`divider-${key}`}
                    value={texts[key]}
                    onChange={(event) => setTexts({ ...texts, [key]: event.target.value })}
                  />
                </div>
                {wrong && (
                  <div className="fault" role="alert">
                    This cannot be read as a quantity.
                  </div>
                )}
              </div>
            );
          })}
        </fieldset>
      </div>
      {reference === undefined && <p className="quiet small">Give the reference voltage of the controller.</p>}
      {reference !== undefined && vOut <= reference && (
        <p className="quiet small">The output is not above the reference: a divider cannot set it.</p>
      )}
      {found.length > 0 && (
        <table className="plain" aria-label="Dividers">
          <thead>
            <tr>
              <th className="number">upper</th>
              <th className="number">lower</th>
              <th className="number">output</th>
              <th className="number">off by</th>
              <th className="number">worst case</th>
              <th className="number">root of squares</th>
              <th className="number">current</th>
              <th>
                <span className="visually-hidden">what can be done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {found.map(({ upper, lower, output, error, worstCase, likely }, i) => (
              <Fragment key={lower}>
                <tr>
                  <td className="number">
                    <Quantity value={upper} unit="ohm" digits={3} />
                  </td>
                  <td className="number">
                    <Quantity value={lower} unit="ohm" digits={3} />
                  </td>
                  <td className="number">
                    <Quantity value={output.value} unit="V" digits={5} />
                  </td>
                  <td className="number">{percent(error)}</td>
                  <td className="number">±{percent(worstCase.value)}</td>
                  <td className="number">±{percent(likely.value)}</td>
                  <td className="number">
                    <Quantity value={vOut / (upper + lower)} unit="A" digits={3} />
                  </td>
                  <td>
                    <Button
                      variant="plain"
                      aria-expanded={open === i}
                      onClick={() => setOpen(open === i ? undefined : i)}
                    >
                      Working
                    </Button>
                  </td>
                </tr>
                {open === i && (
                  <tr>
                    <td colSpan={8}>
                      {[output, worstCase, likely].map((form) => (
                        <FormView key={form.name} form={form} />
                      ))}
                    </td>
                  </tr>
                )}
              </Fragment>
            ))}
          </tbody>
        </table>
      )}
      {allowed !== undefined && found[0] && (
        <p className="small">
          Allowed are ±{percent(allowed)} ({formatQuantity(allowed * vOut, 'V', 3)}): the first pair{' '}
          {Math.abs(found[0].error) + found[0].worstCase.value <= allowed
            ? 'holds them even at its worst'
            : Math.abs(found[0].error) + found[0].likely.value <= allowed
              ? 'holds them by the root of squares, not at its worst'
              : 'does not hold them'}
          . Ripple and load regulation come on top.
        </p>
      )}
    </section>
  );
}
