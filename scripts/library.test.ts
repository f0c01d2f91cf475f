import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeAll, describe, expect, jest, test } from '@jest/globals';

jest.setTimeout(120_000);

const root = join(import.meta.dirname, '..');
const page = readFileSync(join(root, 'docs/library.md'), 'utf8');

/** Each example of the page, and the lines under it. */
const examples = [...page.matchAll(/## ([^\n]+)\n[\s\S]*?```ts\n([\s\S]*?)```\n\n```text\n([\s\S]*?)```/g)].map(
  ([, title = '', code = '', printed = '']) => ({ title, code, printed }),
);

/** A folder in which the built package is installed as any other would be. */
const folder = mkdtempSync(join(tmpdir(), 'yundro-library-'));
const tsc = join(root, 'node_modules/typescript/bin/tsc');

beforeAll(() => {
  const modules = join(folder, 'node_modules');
  mkdirSync(join(modules, '@yundro'), { recursive: true });
  const built = join(modules, '@yundro/core');
  const script = `import { packageCore } from ${JSON.stringify(join(root, 'scripts/packageCore.mjs'))}; packageCore(${JSON.stringify(built)});`;
  execFileSync(process.execPath, ['--input-type=module', '-e', script]);
  for (const name of [
    'zod',
    'jstat',
    'papaparse',
    'ml-matrix',
    'is-any-array',
    'ml-array-rescale',
    'ml-array-max',
    'ml-array-min',
  ])
    symlinkSync(join(root, 'node_modules', name), join(modules, name));
  writeFileSync(join(folder, 'package.json'), JSON.stringify({ type: 'module' }));
});

describe('the examples of docs/library.md, against the package as it is built', () => {
  test('there are some', () => {
    expect(examples.length).toBeGreaterThan(3);
  });
  test.each(examples)('$title', ({ title, code, printed }) => {
    const name = title.replace(/\W+/g, '-');
    writeFileSync(join(folder, `${name}.ts`), code);
    // Types come from the declarations of the package.
    const options = ['--target', 'es2023', '--module', 'nodenext', '--strict', '--types', 'node', '--skipLibCheck'];
    const types = ['--typeRoots', join(root, 'node_modules/@types')];
    execFileSync(process.execPath, [tsc, ...options, ...types, join(folder, `${name}.ts`)], {
      encoding: 'utf8',
      cwd: folder,
    });
    const out = execFileSync(process.execPath, [join(folder, `${name}.js`)], { encoding: 'utf8', cwd: folder });
    expect(out.replace(/[\u2009\u202f\u00a0]/g, ' ')).toBe(printed);
  });
});
