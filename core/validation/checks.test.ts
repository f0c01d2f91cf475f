import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { outsideChecks } from './checks.js';
import { checkResult } from './outsideCheck.js';
import { validationPage } from './page.js';

describe('against figures from outside', () => {
  test.each(outsideChecks.map((check) => [`${check.source}: ${check.quantity}`, check] as const))('%s', (_, check) => {
    const { computed, within } = checkResult(check);
    expect(Number.isFinite(computed)).toBe(true);
    if (!within) throw new Error(`expected ${String(check.expected)} ${check.unit}, computed ${String(computed)}`);
  });

  test('there are as many as the page says, and a wrong figure would be caught', () => {
    expect(outsideChecks.length).toBeGreaterThan(80);
    const [first] = outsideChecks;
    if (!first) throw new Error('no checks');
    expect(checkResult({ ...first, expected: first.expected * 1.1 }).within).toBe(false);
  });

  test('docs/validation.md is what these checks generate', () => {
    const kept = readFileSync(new URL('../../docs/validation.md', import.meta.url), 'utf8');
    expect(kept).toBe(validationPage());
  });
});
