import type { Page } from '@playwright/test';

/** What the loop below takes on the machine the limits were set on, at rest, ms. */
const AT_REST = 70;
const LOOPS = 20e6;

/**
 * How much slower than the machine the limits were set on this one is just now, from a loop of fixed work in the page; at least 1. A
 * limit in milliseconds says something of the application only together with it: machines that share their processors go at half their
 * speed at times.
 */
export async function slowness(page: Page): Promise<number> {
  const took = await page.evaluate((loops) => {
    const began = performance.now();
    let sum = 0;
    for (let i = 0; i < loops; i += 1) sum += i % 7;
    return sum > 0 ? performance.now() - began : 0;
  }, LOOPS);
  return Math.max(1, took / AT_REST);
}
