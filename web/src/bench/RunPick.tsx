import { runWords, useRuns } from './useRuns';

/** Chooses the run that is looked at. */
export function RunPick() {
  const { runs, chosen, choose } = useRuns();
  if (runs.length === 0) return null;
  return (
    <div className="run-pick">
      <label htmlFor="bench-run">Run</label>
      <select id="bench-run" className="pick" value={chosen?.id} onChange={({ target }) => choose(target.value)}>
        {runs.map((row) => (
          <option key={row.id} value={row.id}>
            {runWords(row)}
          </option>
        ))}
      </select>
    </div>
  );
}
