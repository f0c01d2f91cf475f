import type { Unit } from '../quantity/unit.js';

/** One number that goes into a formula: how it is written, named and measured. */
export interface FormulaInput {
  /** TeX */
  readonly symbol: string;
  readonly name: string;
  readonly unit: Unit;
}

/**
 * A published or derived formula as data: what it computes, how it is set in type, where it comes from, and the function
 * itself. First-cut sizing, the working and the checks on the engine all use the same one.
 */
export interface ClosedForm<K extends string = string> {
  readonly name: string;
  /** TeX of the result's symbol. */
  readonly symbol: string;
  readonly unit: Unit;
  /** TeX of the right-hand side. */
  readonly formula: string;
  /** Author, title, section; or "common practice"; or "derived here" with the method. */
  readonly source: string;
  readonly assumption: string;
  readonly inputs: Readonly<Record<K, FormulaInput>>;
  readonly compute: (inputs: Readonly<Record<K, number>>) => number;
}

/** A closed form with its numbers put in. @public */
export interface AppliedForm {
  readonly name: string;
  readonly symbol: string;
  readonly unit: Unit;
  readonly formula: string;
  readonly source: string;
  readonly assumption: string;
  readonly inputs: readonly (FormulaInput & { readonly value: number })[];
  readonly value: number;
  /** A step on the way, or a step from it: of another quantity than the figure explained, and not to be compared with it. */
  readonly step?: true;
}

/** Put numbers into a closed form. @public */
export function applied<K extends string>(form: ClosedForm<K>, values: Readonly<Record<K, number>>): AppliedForm {
  const { name, symbol, unit, formula, source, assumption } = form;
  const keys = Object.keys(form.inputs) as K[];
  return {
    name,
    symbol,
    unit,
    formula,
    source,
    assumption,
    inputs: keys.map((key) => ({ ...form.inputs[key], value: values[key] })),
    value: form.compute(values),
  };
}
