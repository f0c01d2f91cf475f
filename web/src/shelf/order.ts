import type { Project, StageRow } from '@yundro/core';

/** What the stages of the shelf are put in order by. */
export const ORDERS = [
  { order: 'made', words: 'as made' },
  { order: 'name', words: 'by name' },
  { order: 'tightest', words: 'tightest first' },
  { order: 'worked', words: 'last worked first' },
] as const;
export type Order = (typeof ORDERS)[number]['order'];

/** The margin a stage is put in order by: what fails without a number first, what is not worked last. */
const tightness = ({ summary }: StageRow): number => {
  if (!summary.tightest) return Infinity;
  return summary.tightest.margin ?? -Infinity;
};

const BY: Readonly<Record<Order, ((a: StageRow, b: StageRow) => number) | undefined>> = {
  made: undefined,
  name: (a, b) => a.name.localeCompare(b.name),
  tightest: (a, b) => tightness(a) - tightness(b),
  worked: (a, b) => b.updatedAt.localeCompare(a.updatedAt),
};

/** What a stage can be found by: its name, form and voltages. */
function wordsOf({ name, facts }: StageRow, project: Project): string {
  const form = facts
    ? `${facts.topology.replaceAll('-', ' ')} ${facts.rectifier} ${String(facts.inputVoltage.min)} ${String(facts.inputVoltage.max)} ${String(facts.outputVoltage)}V ${String(facts.outputCurrent)}A`
    : '';
  return `${project.name} ${name} ${form}`.toLowerCase();
}

/** The projects with the stages that hold every word looked for, in order; of those that hold none only what is empty anyway. */
export function arranged(projects: readonly Project[], find: string, order: Order): readonly Project[] {
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const by = BY[order];
  return projects.flatMap((project): readonly Project[] => {
    const found = project.stages.filter((row) => {
      const text = wordsOf(row, project);
      return words.every((word) => text.includes(word));
    });
    if (words.length > 0 && found.length === 0) return [];
    return [{ ...project, stages: by ? found.toSorted(by) : found }];
  });
}
