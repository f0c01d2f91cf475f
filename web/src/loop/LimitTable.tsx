import { formatQuantity, type CrossoverLimit } from '@yundro/core';
import { Answered } from '../shown/Answered';
import { useAskedLoop } from '../ledger/loopJudgement';

const WORDS: Readonly<Record<CrossoverLimit['limit'], string>> = {
  'switching-frequency': 'switching frequency',
  'right-half-plane-zero': 'right-half-plane zero',
  amplifier: 'amplifier',
};

/** The crossover against what practice keeps it below, each at the corner where it comes nearest. */
export function LimitTable() {
  const asked = useAskedLoop();
  // A failure is told of with the margins above.
  return (
    <Answered of={{ ...asked, failure: undefined }} what="limit" wait={null}>
      {(judged) => <Limits limits={judged?.limits ?? []} />}
    </Answered>
  );
}

function Limits({ limits }: { readonly limits: readonly CrossoverLimit[] }) {
  if (limits.length === 0) return null;
  return (
    <table className="plain small mt-1" aria-label="Limits of the crossover">
      <thead>
        <tr>
          <th>crossover against</th>
          <th className="number">crossover</th>
          <th className="number">keep below</th>
          <th>at</th>
          <th>rule (common practice)</th>
        </tr>
      </thead>
      <tbody>
        {limits.map(({ limit, crossover, allowed, corner, rule }) => (
          <tr key={limit}>
            <td>
              {crossover <= allowed ? '' : <b>above: </b>}
              {WORDS[limit]}
            </td>
            <td className="number">{formatQuantity(crossover, 'Hz', 3)}</td>
            <td className="number">{formatQuantity(allowed, 'Hz', 3)}</td>
            <td>
              {formatQuantity(corner.inputVoltage, 'V', 3)}, {formatQuantity(corner.outputCurrent, 'A', 3)}
            </td>
            <td className="quiet">{rule}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
