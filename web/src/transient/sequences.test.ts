import { describe, expect, test } from '@jest/globals';
import { namedStep, readSequences } from './sequences';

describe('sequences kept in the browser', () => {
  const step = namedStep({ at: 1e-4, what: 'load', to: 3, within: 2e-6 });
  test('are read back as they were written', () => {
    const short = namedStep({ at: 0, what: 'short', to: 0.01 });
    expect(readSequences(JSON.stringify({ a: [step, short], b: [] }))).toEqual({ a: [step, short], b: [] });
    expect(readSequences(null)).toEqual({});
  });
  test.each([
    ['another shape', [{ ...step, what: 'storm' }]],
    ['a number as text', [{ ...step, to: '3' }]],
    ['no list', { step }],
    ['a step without a time', [{ id: 'x', what: 'load', to: 3 }]],
  ])('of %s are left out, and break nothing', (_, steps) => {
    expect(readSequences(JSON.stringify({ a: steps, b: [step] }))).toEqual({ b: [step] });
  });
});
