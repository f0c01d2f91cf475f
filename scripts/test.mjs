// From a fresh clone, or any later state: type check, lint, unit tests, end-to-end tests. Ends with one line of counts.
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { run } from './lib/command.mjs';
import {
  checkNode,
  ensureBuilt,
  ensureChromium,
  ensurePackages,
  ensurePostgres,
  ensureSpice,
} from './lib/requirements.mjs';
import { say, SetupError } from './lib/say.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const results = join(root, 'test-results');

/** Counts over all steps; a step that has no tests of its own counts as one. */
const counts = { passed: 0, failed: 0 };

function step(name, { code }, found) {
  const ended = found ?? { passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 };
  // A runner that ends badly without naming a failed test still failed.
  const failed = code !== 0 && ended.failed === 0 ? 1 : ended.failed;
  counts.passed += ended.passed;
  counts.failed += failed;
  say(`— ${name}: ${ended.passed} passed, ${failed} failed`);
}

function jestCounts(file) {
  if (!existsSync(file)) return { passed: 0, failed: 1 };
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(file, 'utf8'));
  return { passed: numPassedTests, failed: numFailedTests + numRuntimeErrorTestSuites };
}

function playwrightCounts(file) {
  if (!existsSync(file)) return { passed: 0, failed: 1 };
  const { expected, unexpected, flaky } = JSON.parse(readFileSync(file, 'utf8')).stats;
  return { passed: expected, failed: unexpected + flaky };
}

try {
  checkNode();
  await ensurePackages(root);
  const shown = { cwd: root, show: true };
  const npm = (...words) => run('npm', ['run', '--silent', ...words], shown);
  // What only reads the sources goes on while the rest is installed.
  const reading = Promise.all([npm('typecheck'), npm('lint')]);
  await ensurePostgres();
  await ensureChromium();
  await ensureSpice();
  await ensureBuilt(root);
  rmSync(results, { recursive: true, force: true });
  mkdirSync(results, { recursive: true });

  const [typecheck, lint] = await reading;
  step('type check', typecheck);
  step('lint', lint);
  const jest = join(results, 'unit.json');
  step('unit tests', await npm('unit', '--', '--json', `--outputFile=${jest}`, '--silent'), jestCounts(jest));
  const playwright = await run('npx', ['--no-install', 'playwright', 'test', '-c', 'e2e/playwright.config.ts'], shown);
  step('end-to-end tests', playwright, playwrightCounts(join(results, 'e2e.json')));
} catch (error) {
  process.stderr.write(error instanceof SetupError ? `${error.message}\n` : `${error?.stack ?? error}\n`);
  counts.failed += 1;
}
say(`${counts.passed} passed, ${counts.failed} failed`);
process.exitCode = counts.failed === 0 && counts.passed > 0 ? 0 : 1;
