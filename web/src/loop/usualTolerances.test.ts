import { expect, test } from '@jest/globals';
import { DEFAULT_TOLERANCES } from '@yundro/core';
import { usualTolerances } from './usualTolerances';

test('the usual tolerances are told as they are taken, each once', () => {
  const said = usualTolerances().replace(/[\u2009\u202f\u00a0]/g, ' ');
  const { banks, ...others } = DEFAULT_TOLERANCES;
  expect(said.match(/%/g)).toHaveLength(Object.keys(others).length + Object.keys(banks).length);
  expect(said).toContain(`ceramic ${String(100 * banks.ceramic)} %`);
  expect(said).toContain(`ESR ${String(100 * others.esr)} %`);
});
