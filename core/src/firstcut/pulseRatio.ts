import type { ClosedForm } from './closedForm.js';

/**
 * The duty ratio written the other way round, as it is in parts of the field: the period over the on-time. Not the same as the
 * on-time over the period, which some texts call pulse ratio too.
 *
 * @public
 */
export const pulseRatio: ClosedForm<'duty'> = {
  name: 'Pulse ratio',
  symbol: 'q',
  unit: 'ratio',
  formula: '\\frac{T}{t_\\mathrm{on}}=\\frac{1}{D}',
  source: 'Definition',
  assumption: 'The on-time is that of the main switch; q = 1 is a switch that stays on.',
  inputs: { duty: { symbol: 'D', name: 'duty ratio', unit: 'ratio' } },
  compute: ({ duty }) => 1 / duty,
};
