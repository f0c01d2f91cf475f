interface Props {
  /** In the plural, as the table is named. */
  readonly words: string;
  readonly rejected: readonly { readonly part: { readonly name: string }; readonly reasons: readonly string[] }[];
}

/** The parts of the library that do not do, folded away, each with its reasons. */
export function RejectedParts({ words, rejected }: Props) {
  if (rejected.length === 0) return null;
  return (
    <details className="mt-2">
      <summary>{rejected.length} rejected, with the reasons</summary>
      <table className="plain small" aria-label={`Rejected ${words}`}>
        <tbody>
          {rejected.map(({ part, reasons }) => (
            <tr key={part.name}>
              <td>{part.name}</td>
              <td>{reasons.join(' ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
