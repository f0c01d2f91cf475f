/**
 * `npm run mutate [FOLDER …]`: lines of the core are changed one at a time, and the tests of their own folder must notice: the fast
 * ones, run first and alone, so that a figure is a lower bound of what all tests together would find. With folders of core/src all of
 * their mutants; without, a fixed sample of files spread over them; with `--sample FOLDER …` that of some folders. Figures go to the
 * screen; docs/validation.md keeps those of the sample.
 */
import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..');

/** The sample: stretches of lines, chosen before their mutants were known, two or three files of each folder. */
const SAMPLE = {
  steady: ['steady/solveCircuit.ts:60-110'],
  smallsignal: ['smallsignal/predictedStep.ts', 'smallsignal/margins.ts:95-150'],
  corners: ['corners/crossoverLimits.ts:38-100', 'corners/worstVerdict.ts'],
  modes: ['modes/operatingMode.ts:56-121', 'modes/settledFrequency.ts'],
  losses: ['losses/switchTerms.ts:60-110'],
};

const [sampled, ...named] = process.argv.slice(2);
const ofSample = sampled === undefined || sampled === '--sample';
const folders = ofSample ? named : [sampled, ...named];
const ranges = (file) => {
  const [path, lines] = file.split(':');
  return lines ? `core/src/${path}:${lines}` : `core/src/${path}`;
};
const chosen = !ofSample
  ? Object.fromEntries(
      folders.map((folder) => [folder, [`core/src/${folder}/**/*.ts`, `!core/src/${folder}/**/*.test.ts`]]),
    )
  : Object.fromEntries(
      Object.entries(SAMPLE)
        .filter(([folder]) => folders.length === 0 || folders.includes(folder))
        .map(([folder, files]) => [folder, files.map(ranges)]),
    );

mkdirSync(join(root, '.cache'), { recursive: true });
const lines = [];
for (const [folder, mutate] of Object.entries(chosen)) {
  const config = JSON.parse(readFileSync(join(root, 'stryker.config.json'), 'utf8'));
  const report = join(root, `.cache/mutation-${folder}.json`);
  const file = join(root, `.cache/stryker-${folder}.json`);
  writeFileSync(file, JSON.stringify({ ...config, mutate, jsonReporter: { fileName: report } }));
  execFileSync(process.execPath, [join(root, 'node_modules/@stryker-mutator/core/bin/stryker.js'), 'run', file], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, MUTATED_FOLDER: folder },
  });
  const mutants = Object.values(JSON.parse(readFileSync(report, 'utf8')).files).flatMap((one) => one.mutants);
  const count = (...states) => mutants.filter(({ status }) => states.includes(status)).length;
  const killed = count('Killed', 'Timeout');
  const all = killed + count('Survived', 'NoCoverage');
  lines.push(`${folder.padEnd(14)} ${String(killed)} of ${String(all)} killed, ${((100 * killed) / all).toFixed(0)} %`);
}
process.stdout.write(`${lines.join('\n')}\n`);
