/** Nodes and sources by which a closed loop is looked at. */
export const LOOP = {
  /** Top of the divider, behind the source that injects into the loop. */
  dividerTop: 'dividerTop',
  feedback: 'feedback',
  reference: 'reference',
  control: 'control',
  injection: 'injection',
} as const;
