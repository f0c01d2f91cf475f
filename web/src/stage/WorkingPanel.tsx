import type { Working } from '@yundro/core';
import { formatQuantity } from '@yundro/core';
import { Offcanvas } from 'react-bootstrap';
import { useWorked } from '../engine/useWorked';
import { Answered } from '../shown/Answered';
import { Formula } from '../shown/Formula';
import { Quantity } from '../shown/Quantity';
import { useFullLine } from '../ledger/fullLedger';
import { FormView } from './FormView';
import { MarginDrivers } from './MarginDrivers';
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

/** What a margin hangs on, as soon as it is worked. */
function Drivers({ target }: { readonly target: string }) {
  const line = useFullLine(target);
  return line ? <MarginDrivers line={line} /> : <p className="quiet small">What drives the margin is being worked …</p>;
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
