import type { LedgerLine } from '@yundro/core';
import { Quantity } from '../shown/Quantity';

/** What a margin hangs on: the strongest design values, and where each would bring it to zero. */
export function MarginDrivers({ line }: { readonly line: LedgerLine }) {
  const { quantity: of, drivers, moved, nominal, margin } = line;
  const percent = (share: number): string => `${(100 * share).toFixed(1)} %`;
  return (
    <section className="my-3" aria-label={`What drives the margin: ${of}`}>
      <h3>
        What drives the margin{margin === null ? '' : ` of ${percent(margin)}`} of the {of}
      </h3>
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
