import type { AppliedForm, Working } from '@yundro/core';
import { formatQuantity } from '@yundro/core';
import { useEffect, useState } from 'react';
import { Offcanvas } from 'react-bootstrap';
import { engine } from '../engine/engineClient';
import { Formula } from '../shown/Formula';
import { Quantity } from '../shown/Quantity';
import { useSession } from './stageSession';
import { openWorking, useLayout } from './stageView';

/** A formula with the numbers put in, its source and what it assumes. */
export function FormView({ form, beside }: { readonly form: AppliedForm; readonly beside?: number }) {
  const difference = beside === undefined || form.value === 0 ? undefined : beside / form.value - 1;
  return (
    <section className="mt-3">
      <h3>{form.name}</h3>
      <Formula display tex={`${form.symbol} = ${form.formula}`} />
      <table className="plain small">
        <tbody>
          {form.inputs.map((input) => (
            <tr key={input.symbol}>
              <td>
                <Formula tex={input.symbol} />
              </td>
              <td>{input.name}</td>
              <td className="number">
                <Quantity value={input.value} unit={input.unit} digits={5} />
              </td>
            </tr>
          ))}
          <tr>
            <td>
              <Formula tex={form.symbol} />
            </td>
            <td>by this formula</td>
            <td className="number">
              <Quantity value={form.value} unit={form.unit} digits={5} />
            </td>
          </tr>
        </tbody>
      </table>
      <p className="quiet small mb-0">
        {difference !== undefined && <>The engine's figure differs from it by {(100 * difference).toFixed(2)} %. </>}
        Source: {form.source}. {form.assumption}
      </p>
    </section>
  );
}

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
        <FormView key={form.name} form={form} beside={working.value} />
      ))}
    </>
  );
}

/** The working of one number: formula, numbers put in, source, corner, assumption. */
export function WorkingPanel() {
  const request = useLayout((layout) => layout.working);
  const worked = useSession((session) => session.worked);
  const [working, setWorking] = useState<Working>();
  useEffect(() => {
    let current = true;
    if (request && worked)
      void engine.working(request.corner, request.figure).then((found) => current && setWorking(found));
    return () => {
      current = false;
    };
  }, [request, worked]);
  return (
    <Offcanvas
      show={request !== undefined}
      placement="end"
      onHide={() => openWorking(undefined)}
      aria-labelledby="working-title"
    >
      <Offcanvas.Header closeButton>
        <Offcanvas.Title as="h2" id="working-title">
          {working ? `Working: ${working.quantity}` : 'Working'}
        </Offcanvas.Title>
      </Offcanvas.Header>
      <Offcanvas.Body tabIndex={0}>
        {working ? (
          <Content working={working} />
        ) : (
          <p className="quiet">This corner has no operating point, so there is no number to work.</p>
        )}
      </Offcanvas.Body>
    </Offcanvas>
  );
}
