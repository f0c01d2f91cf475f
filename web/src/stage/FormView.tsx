import type { AppliedForm } from '@yundro/core';
import { Formula } from '../shown/Formula';
import { Quantity } from '../shown/Quantity';

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
