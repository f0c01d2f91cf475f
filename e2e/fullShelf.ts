import type { Page } from '@playwright/test';

/** Stages that a full shelf holds. */
export const FULL_SHELF = 200;

/** What of a stage is changed for its copies. */
interface FilledStage {
  readonly targets: {
    readonly inputVoltage: { readonly max: number };
    readonly outputCurrent: { readonly max: number };
  };
}

/** Put copies of the first stage on the shelf until it holds so many. */
export async function fillShelf(address: string): Promise<void> {
  const shelf = (await (await fetch(`${address}/api/projects`)).json()) as {
    projects: { id: string; stages: { id: string }[] }[];
  };
  const present = shelf.projects.reduce((sum, { stages }) => sum + stages.length, 0);
  const [project] = shelf.projects;
  const id = project?.stages[0]?.id ?? '';
  const { document } = (await (await fetch(`${address}/api/stages/${id}`)).json()) as { document: FilledStage };
  const { inputVoltage, outputCurrent } = document.targets;
  // Of one corner, so that two hundred of them are soon worked.
  const targets = {
    ...document.targets,
    // Nor with a step to simulate.
    loadStep: undefined,
    inputVoltage: { min: inputVoltage.max, max: inputVoltage.max },
    outputCurrent: { min: outputCurrent.max, max: outputCurrent.max },
  };
  for (let n = present; n < FULL_SHELF; n += 1)
    await fetch(`${address}/api/projects/${project?.id ?? ''}/stages`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ document: { ...document, targets, name: `Stage ${String(n)}` } }),
    });
}

/** Time from the address to a shelf with all its rows, ms. */
export async function timeShelf(page: Page, address: string): Promise<number> {
  await page.goto(`${address}/`);
  // By the page's own clock, from the moment it was asked for.
  const there = await page.waitForFunction(
    (rows) => document.querySelectorAll('main table tbody tr').length >= rows && performance.now(),
    FULL_SHELF,
  );
  return Number(await there.jsonValue());
}
