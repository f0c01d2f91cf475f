import type { OperatingPoint, Unit } from '@yundro/core';
import { dutyAs, useDutyConvention } from '../shown/dutyConvention';

/** A figure of an operating point as the screen names it; its key opens its working. */
export interface ShownFigure {
  readonly key: string;
  readonly words: string;
  readonly unit: Unit;
  readonly value: (point: OperatingPoint) => number;
}

/** The figures shown at a corner, in the order of the Stage station. */
const SHOWN_FIGURES: readonly ShownFigure[] = [
  { key: 'duty', words: 'Duty ratio', unit: 'ratio', value: (p) => p.duty },
  { key: 'inductorCurrent.ripple', words: 'Inductor ripple', unit: 'A', value: (p) => p.inductorCurrent.ripple },
  { key: 'inductorCurrent.peak', words: 'Inductor peak', unit: 'A', value: (p) => p.inductorCurrent.peak },
  { key: 'inductorCurrent.rms', words: 'Inductor RMS', unit: 'A', value: (p) => p.inductorCurrent.rms },
  { key: 'outputRipple', words: 'Output ripple', unit: 'V', value: (p) => p.outputRipple },
  { key: 'inputRipple', words: 'Input ripple', unit: 'V', value: (p) => p.inputRipple },
  { key: 'inputCapacitorRms', words: 'Input cap. RMS', unit: 'A', value: (p) => p.inputCapacitorRms },
  { key: 'outputCapacitorRms', words: 'Output cap. RMS', unit: 'A', value: (p) => p.outputCapacitorRms },
  {
    key: 'switchStress.highSide.rmsCurrent',
    words: 'High-side RMS',
    unit: 'A',
    value: (p) => p.switchStress['highSide']?.rmsCurrent ?? 0,
  },
  {
    key: 'switchStress.lowSide.rmsCurrent',
    words: 'Low-side RMS',
    unit: 'A',
    value: (p) => p.switchStress['lowSide']?.rmsCurrent ?? 0,
  },
  { key: 'inputCurrent', words: 'Input current', unit: 'A', value: (p) => p.inputCurrent },
  { key: 'losses.total', words: 'Total loss', unit: 'W', value: (p) => p.losses['total'] ?? 0 },
];

/** The shown figures, the duty ratio in the convention the designer prefers. */
export function useShownFigures(): readonly ShownFigure[] {
  const convention = useDutyConvention((chosen) => chosen.convention);
  if (convention === 'D') return SHOWN_FIGURES;
  return SHOWN_FIGURES.map((figure) =>
    figure.key === 'duty' ? { ...figure, words: 'Pulse ratio q', value: (p) => dutyAs(convention, p.duty) } : figure,
  );
}
