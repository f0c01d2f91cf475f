import type { Working } from '@yundro/core';
import { formatQuantity } from '@yundro/core';
import { Offcanvas } from 'react-bootstrap';
import { useWorked } from '../engine/useWorked';
import { Answered } from '../shown/Answered';
import { Formula } from '../shown/Formula';
import { Quantity } from '../shown/Quantity';
import { useFullLine } from '../ledger/fullLedger';
import { FormView } from './FormView';
import { openWorking, useLayout } from './stageView';
import { useWorkedStage } from './useCorner';

function Content({ working }: { readonly working: Working }) {
  const { corner } = working;
  return (
    <>
      <p className="working-value mb-0">
        <Quantity value={working.value} unit={working.unit} digits={5} />
      </p>
      <p className="quiet">
        at {formatQuantity(corner.inputVoltage, 'V', 4)} input and {formatQuantity(corner.outputCurrent, 'A', 4)} load
      </p>
      <Formula display tex={`${working.symbol} = ${working.formula}`} />
      <table className="plain small">
        <tbody>
          {working.inputs.map((input) => (
            <tr key={input.label}>
              <td>{input.label}</td>
              <td className="number">
                <Quantity value={input.value} unit={input.unit} digits={5} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet small">
        Source: {working.source} {working.assumption}
      </p>
      {working.closedForms.length > 0 && <h2 className="mt-3">By the textbook</h2>}
      {working.closedForms.map((form) => (
        <FormView key={form.name} form={form} {...(form.step !== true && { beside: working.value })} />
      ))}
    </>
  );
}

/** What a margin hangs on: the strongest design values, and where each would bring it to zero. */
function Drivers({ target }: { readonly target: string }) {
  const line = useFullLine(target);
  if (!line) return <p className="quiet small">What drives the margin is being worked …</p>;
  const { drivers, moved, nominal, margin } = line;
  const percent = (share: number): string => `${(100 * share).toFixed(1)} %`;
  return (
    <section className="mb-3" aria-label="What drives the margin">
      <h3>What drives the margin{margin === null ? '' : ` of ${percent(margin)}`}</h3>
      {moved.length > 0 && nominal.margin !== null && (
        <p className="small mb-1">
          With every part at its stated value it is {percent(nominal.margin)}. Moved to the worst end of their spread:{' '}
          {moved.map(({ quantity, because }) => `${quantity} (${because})`).join(', ')}.
        </p>
      )}
      {drivers.length === 0 ? (
        <p className="quiet small">No single design value moves it.</p>
      ) : (
        <table className="plain small">
          <thead>
            <tr>
              <th>design value</th>
              <th className="number">now</th>
              <th className="number">margin per +1 %</th>
              <th className="number">no margin at</th>
            </tr>
          </thead>
          <tbody>
            {drivers.map(({ path, quantity, unit, value, sensitivity, zeroAt }) => (
              <tr key={path}>
                <td>{quantity}</td>
                <td className="number">
                  <Quantity value={value} unit={unit} digits={3} />
                </td>
                <td className="number">
                  {sensitivity > 0 ? '+' : '−'}
                  {Math.abs(sensitivity).toFixed(2)} %
                </td>
                <td className="number">
                  {zeroAt === null ? 'out of reach' : <Quantity value={zeroAt} unit={unit} digits={3} />}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="quiet small mb-0">
        Central differences of the engine at the worst corner, parts at their stated values; “no margin at” is solved,
        not extrapolated.
      </p>
    </section>
  );
}

/** The working of one number: formula, numbers put in, source, corner, assumption. */
export function WorkingPanel() {
  const request = useLayout((layout) => layout.working);
  const worked = useWorkedStage();
  const figure = request && 'figure' in request ? request : undefined;
  const asked = useWorked(
    worked && figure && { ...worked, corner: figure.corner, figure: figure.figure },
    (engine, question) => engine.working(question.work, question.corner, question.figure),
  );
  const given = request && 'working' in request ? request.working : undefined;
  const title = given ?? (figure && asked.answer?.value);
  return (
    <Offcanvas
      show={request !== undefined}
      placement="end"
      onHide={() => openWorking(undefined)}
      aria-labelledby="working-title"
    >
      <Offcanvas.Header closeButton>
        <Offcanvas.Title as="h2" id="working-title">
          {title ? `Working: ${title.quantity}` : 'Working'}
        </Offcanvas.Title>
      </Offcanvas.Header>
      <Offcanvas.Body tabIndex={0}>
        {given && <Content working={given} />}
        {figure && (
          <Answered of={asked} what="working" wait={<p className="quiet">The working is being put together …</p>}>
            {(working) =>
              working ? (
                <>
                  {figure.target !== undefined && <Drivers target={figure.target} />}
                  <Content working={working} />
                </>
              ) : (
                <p className="quiet">This corner has no operating point, so there is no number to work.</p>
              )
            }
          </Answered>
        )}
      </Offcanvas.Body>
    </Offcanvas>
  );
}
