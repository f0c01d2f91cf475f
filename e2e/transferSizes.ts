import type { Browser } from '@playwright/test';

/** Bytes over the wire for a first visit: the shelf, and a stage with the workers it starts. */
export interface TransferSizes {
  readonly shelf: number;
  readonly stage: number;
}

/** What a first visit to an address loads, headers and all, bytes; until the page shows what is waited for. */
async function firstVisit(browser: Browser, address: string, shown: string): Promise<number> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.goto(address);
  await page.locator(shown).first().waitFor();
  // Surveys begin a moment after the stage was worked.
  await page.waitForLoadState('networkidle');
  await page.waitForTimeout(1500);
  // By the page's own account: it counts the scripts of its workers too.
  const size = await page.evaluate(() =>
    [...performance.getEntriesByType('navigation'), ...performance.getEntriesByType('resource')].reduce(
      (sum, entry) => sum + (entry as PerformanceResourceTiming).transferSize,
      0,
    ),
  );
  await context.close();
  return size;
}

/** Measure the shelf and the first stage on it. */
export async function transferSizes(browser: Browser, address: string): Promise<TransferSizes> {
  const { projects } = (await (await fetch(`${address}/api/projects`)).json()) as {
    projects: { stages: { id: string }[] }[];
  };
  const id = projects[0]?.stages[0]?.id ?? '';
  return {
    shelf: await firstVisit(browser, `${address}/`, 'main table tbody tr'),
    stage: await firstVisit(browser, `${address}/stages/${id}/targets`, '.ledger .line'),
  };
}
