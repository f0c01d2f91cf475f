/** The circuit contradicts itself. */
export class UnsolvableCircuitError extends Error {
  constructor(readonly elements: readonly string[]) {
    super(
      `The circuit has no solution: ${elements.join(', ')} contradict each other ` +
        '(voltage sources in a loop, or current sources with nowhere to flow).',
    );
    this.name = 'UnsolvableCircuitError';
  }
}
