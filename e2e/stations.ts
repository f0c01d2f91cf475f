import type { Page } from '@playwright/test';

/** Go to a station by its name in the rail. */
export async function goTo(page: Page, station: string): Promise<void> {
  await page.getByRole('navigation', { name: 'Stations' }).getByText(station, { exact: true }).click();
  await page.locator('.rail a.active', { hasText: station }).waitFor();
}

/** Inputs of the corner grid: lowest, nominal, highest. */
const INPUTS = 3;

/** Choose a corner in the grid by the places of its input and load; what is not named stays. */
export async function lookAtCorner(
  page: Page,
  { input, load }: { readonly input?: number; readonly load?: number },
): Promise<void> {
  const cells = page.locator('.corner-grid .cell');
  await cells.first().waitFor();
  const loads = (await cells.count()) / INPUTS;
  const here = Number(await page.locator('.corner-grid .cell[aria-checked="true"]').getAttribute('data-corner'));
  await cells.nth((input ?? Math.floor(here / loads)) * loads + (load ?? here % loads)).click();
}
