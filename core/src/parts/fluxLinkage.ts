import type { Circuit } from '../circuit/elements.js';
import { zeros } from '../linalg/zeros.js';
import { currentOf, type Signal } from '../orbit/signal.js';

/**
 * Flux linkage of a winding, Wb: λ = L i + Σ M i of the windings on its core, M the mutual inductance with each. What its core carries,
 * and what the voltage across it sets, however it is coupled.
 */
export function fluxLinkage({ elements, couplings }: Circuit, name: string): Signal {
  const inductances = new Map(
    elements.flatMap((one) => (one.kind === 'inductor' ? [[one.name, one.inductance] as const] : [])),
  );
  const own = inductances.get(name) ?? 0;
  const terms: (readonly [Signal, number])[] = [[currentOf(name), own]];
  for (const { first, second, coefficient } of couplings) {
    const other = first === name ? second : second === name ? first : undefined;
    // M = k √(L₁ L₂)
    if (other !== undefined)
      terms.push([currentOf(other), coefficient * Math.sqrt(own * (inductances.get(other) ?? 0))]);
  }
  return (equations) => {
    const row = zeros(equations.order + 1);
    for (const [signal, weight] of terms)
      signal(equations).forEach((value, i) => (row[i] = (row[i] ?? 0) + weight * value));
    return row;
  };
}
