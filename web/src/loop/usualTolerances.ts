import { DEFAULT_TOLERANCES, formatQuantity } from '@yundro/core';

const percent = (share: number): string => `${formatQuantity(100 * share, 'count', 2)} %`;

/** The tolerances taken where none are stated, in words. */
export function usualTolerances(): string {
  const { inductor, banks, esr, onResistance, resistors, capacitors, controller } = DEFAULT_TOLERANCES;
  const kinds = Object.entries(banks).map(([kind, share]) => `${kind} ${percent(share)}`);
  return [
    `inductor ${percent(inductor)}`,
    ...kinds,
    `ESR ${percent(esr)}`,
    `on-resistance ${percent(onResistance)}`,
    `resistors ${percent(resistors)}`,
    `capacitors about the amplifier ${percent(capacitors)}`,
    `controller ${percent(controller)}`,
  ].join(', ');
}
