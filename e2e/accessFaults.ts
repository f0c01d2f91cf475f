import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { quiet } from './desk';

const STANDARD = ['wcag2a', 'wcag2aa', 'wcag21aa'];
/** A station, without the frame about it. */
export const STATION = '#station';

interface Look {
  /** What of the page is gone over: the frame about a station is the same everywhere and is gone over once. */
  readonly within?: string;
  /** The dark theme differs from the light one in nothing but its colours. */
  readonly coloursAlone?: boolean;
}

/** Faults against WCAG AA on what is shown, once nothing is being worked. */
export async function accessFaults(
  page: Page,
  { within = 'html', coloursAlone = false }: Look = {},
): Promise<string[]> {
  await quiet(page);
  // What is worked anew is dimmed, as what is shown until then is not to be read for new: a look that fell into it is taken again.
  const dimmed = await page.evaluateHandle(() => {
    const seen = { any: false };
    const look = (): void => {
      seen.any ||= document.querySelector('.stale, [aria-busy="true"]') !== null;
    };
    look();
    new MutationObserver(look).observe(document.body, { subtree: true, childList: true, attributes: true });
    return seen;
  });
  // No frames: nothing is gained by a second page to put their reports together.
  const axe = new AxeBuilder({ page }).include(within).setLegacyMode();
  const { violations } = await (coloursAlone ? axe.withRules('color-contrast') : axe.withTags(STANDARD)).analyze();
  if (violations.length > 0 && (await dimmed.evaluate(({ any }) => any)))
    return accessFaults(page, { within, coloursAlone });
  return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 120)).join(' | ')}`);
}
