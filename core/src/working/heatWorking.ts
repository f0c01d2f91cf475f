import { junctionRise } from '../firstcut/thermalForms.js';
import { elementWords } from '../powerstage/elementWords.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import { watts, type Term } from '../losses/switchTerms.js';
import { applied } from '../firstcut/closedForm.js';
import type { Derived, WorkingInput } from './working.js';

const labelled = ({ form, values }: Term): readonly WorkingInput[] =>
  applied(form, values).inputs.map(({ name, unit, value }) => ({ label: name, value, unit }));

/** The working of a loss that the circuit does not show, or shows at another temperature. */
export function lossWorking(key: string, { heat }: SolvedPoint): Derived | undefined {
  const line = heat.lines.find((one) => `losses.${one.key}` === key);
  const [first] = line?.terms ?? [];
  if (!line || !first) return undefined;
  const { formula, source, assumption } = first.form;
  const several = line.terms.length > 1;
  return {
    quantity: line.quantity,
    symbol: 'P',
    unit: 'W',
    value: line.watts,
    formula: several ? `\\sum ${formula}` : formula,
    inputs: several
      ? line.terms.map((term, i) => ({ label: `edge ${String(i + 1)}`, value: watts(term), unit: 'W' as const }))
      : labelled(first),
    source,
    assumption,
  };
}

const JUNCTION = /^junctionTemperatures\.(?<place>\w+)$/;

/** The working of a junction temperature. */
export function junctionWorking(key: string, { heat }: SolvedPoint): Derived | undefined {
  const place = JUNCTION.exec(key)?.groups?.['place'];
  const device = heat.devices.find((one) => one.place === place);
  if (place === undefined || device?.kind !== 'settled') return undefined;
  const { temperature, thermal, loss } = device;
  const form = applied(junctionRise, { ambient: temperature - thermal * loss, thermal, loss });
  return {
    quantity: `junction temperature of the ${elementWords(place).words}`,
    symbol: 'T_j',
    unit: 'degC',
    value: temperature,
    formula: form.formula,
    inputs: form.inputs.map(({ name, unit, value }) => ({ label: name, value, unit })),
    source: form.source,
    assumption: form.assumption,
  };
}
