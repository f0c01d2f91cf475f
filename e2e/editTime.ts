import type { Page } from '@playwright/test';

/**
 * Time from the last key of a value typed into the inductance field to the changed ledger line on the screen, ms, measured
 * in the page. The text is typed all but its last key beforehand.
 */
export async function timeEdit(page: Page, text: string): Promise<number> {
  const inductance = page.getByLabel('Inductance', { exact: true });
  await inductance.fill(text.slice(0, -1));
  await page.waitForTimeout(250);
  await page.evaluate(() => {
    // The line moves to another group where its word changes: it is looked for anew.
    const text = () => document.querySelector('.line[data-target="inductorRippleRatio"]')?.textContent;
    const before = text();
    const ledger = document.querySelector('.ledger');
    if (before === undefined || !ledger) throw new Error('no line');
    const state = window as unknown as { changedAfter?: number };
    delete state.changedAfter;
    window.addEventListener(
      'input',
      () => {
        const start = performance.now();
        const watch = new MutationObserver(() => {
          const now = text();
          if (now === undefined || now === before) return;
          watch.disconnect();
          requestAnimationFrame(() => (state.changedAfter = performance.now() - start));
        });
        watch.observe(ledger, { subtree: true, characterData: true, childList: true });
      },
      { once: true, capture: true },
    );
  });
  await inductance.press('End');
  await inductance.press(text.slice(-1));
  const waited = await page.waitForFunction(() => (window as unknown as { changedAfter?: number }).changedAfter);
  return (await waited.jsonValue()) ?? Infinity;
}

/** Values that each change the verdict. */
export const EDITS = ['4u7', '10u', '6u8', '33u', '8u2', '15u', '5u6', '22u', '3u9', '12u', '2u7', '47u'];
