/** Gauss-Legendre nodes and weights on [0, 1], eight points: exact for polynomials to degree 15. */
const GAUSS = [
  [0.019855071751231884, 0.05061426814518813],
  [0.10166676129318664, 0.11119051722668724],
  [0.2372337950418355, 0.15685332293894363],
  [0.4082826787521751, 0.181341891689181],
] as const;
export const GAUSS_NODES: readonly (readonly [number, number])[] = [
  ...GAUSS,
  ...GAUSS.map(([x, w]) => [1 - x, w] as const),
];
