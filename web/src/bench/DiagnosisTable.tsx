import { FAULTS, HEALTHY, type Diagnosis } from '@yundro/core';

export const faultWords = (key: string): string =>
  key === HEALTHY ? 'nothing is wrong' : (FAULTS.find((one) => one.key === key)?.words ?? key);

/** What the readings say, in a sentence. */
export function diagnosisSentence({ answer, ranked, alike }: Diagnosis): string {
  const [first] = ranked;
  if (!first) return 'There is nothing to compare with.';
  if (answer === 'found') return `What was seen fits one picture only: ${faultWords(first.key)}.`;
  if (answer === 'cannot tell')
    return `Cannot tell: ${[first.key, ...alike].map(faultWords).join(', or ')} would look like this at the places that were looked at.`;
  return `None of the pictures fits; the nearest is: ${faultWords(first.key)}.`;
}

/** The faults in the order in which they explain what was seen. */
export function DiagnosisTable({ diagnosis }: { readonly diagnosis: Diagnosis }) {
  return (
    <>
      <p role="status">{diagnosisSentence(diagnosis)}</p>
      <table className="plain" aria-label="Faults by how well they explain it">
        <thead>
          <tr>
            <th>fault</th>
            <th className="number">off by</th>
            <th>most at</th>
          </tr>
        </thead>
        <tbody>
          {diagnosis.ranked.slice(0, 6).map(({ key, distance, worst, possible }) => (
            <tr key={key} data-fault={key} className={possible ? '' : 'quiet'}>
              <td>{faultWords(key)}</td>
              <td
                className="number"
                title="Root mean square of all readings, in standard deviations of boards and probes"
              >
                {distance.toFixed(2)}
              </td>
              <td>{worst.node === '' ? '–' : `${worst.node}, ${worst.deviations.toFixed(1)} deviations`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
