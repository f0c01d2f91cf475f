import type { Locator, Page } from '@playwright/test';
import { goTo } from './stations';

/** How the page bears a hand on it. Longest tasks in ms, none where it is 0: the observer tells only of those over 50 ms. */
export interface Interaction {
  readonly typing: readonly number[];
  readonly cursor: { readonly longest: readonly number[]; readonly frames: readonly number[] };
  readonly handle: { readonly longest: readonly number[]; readonly frames: readonly number[] };
  /** ms from the press on a station in the rail to its heading on the screen, each opened before. */
  readonly stations: readonly number[];
}

/** Rounds of each: what else the machine does adds to some of them. */
const ROUNDS = 5;
/** Long enough for what an edit sets going to end, ms. */
const REST = 3000;

const STATIONS = [
  'Overview',
  'Targets',
  'Stage',
  'Inductor',
  'Capacitors',
  'Switches',
  'Efficiency',
  'Loop',
  'Transient',
];

/** Begin to keep the longest task of the page. */
export const watchTasks = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const kept = window as unknown as { longest: number; tasks?: PerformanceObserver };
    kept.longest = 0;
    kept.tasks?.disconnect();
    kept.tasks = new PerformanceObserver((list) => {
      for (const { duration } of list.getEntries()) kept.longest = Math.max(kept.longest, duration);
    });
    kept.tasks.observe({ entryTypes: ['longtask'] });
  });
/** Longest task since, ms; 0 where none was over 50 ms. */
export const longestTask = (page: Page): Promise<number> =>
  page.evaluate(() => (window as unknown as { longest: number }).longest);

/** Drag a slider to and fro with the pointer. @returns frames a second meanwhile. */
async function dragged(page: Page, slider: Locator): Promise<number> {
  await slider.scrollIntoViewIfNeeded();
  const box = await slider.boundingBox();
  if (!box) throw new Error('There is no slider.');
  const [middle, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(middle, y);
  await page.mouse.down();
  await page.evaluate(() => {
    const kept = window as unknown as { frames: number[]; counting: boolean };
    kept.frames = [];
    kept.counting = true;
    const frame = (at: number): void => {
      kept.frames.push(at);
      if (kept.counting) requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  });
  for (let k = 0; k < 60; k += 1) {
    await page.mouse.move(middle + (box.width / 4) * Math.sin(k / 6), y);
    await page.waitForTimeout(12);
  }
  const frames = await page.evaluate(() => {
    const kept = window as unknown as { frames: number[]; counting: boolean };
    kept.counting = false;
    return kept.frames;
  });
  await page.mouse.up();
  return (1000 * (frames.length - 1)) / ((frames.at(-1) ?? NaN) - (frames[0] ?? NaN));
}

/** From the press on a station in the rail to its heading on the screen, ms. */
const openedAfter = (page: Page, station: string): Promise<number> =>
  page.evaluate(
    (name) =>
      new Promise<number>((resolve, reject) => {
        const link = [...document.querySelectorAll<HTMLElement>('.rail a')].find((one) =>
          one.textContent.startsWith(name),
        );
        if (!link) reject(new Error(`There is no station ${name}.`));
        const before = document.querySelector('h1')?.textContent;
        const began = performance.now();
        const look = (): void => {
          // The overview bears the name of the stage.
          const heading = document.querySelector('h1')?.textContent;
          if (heading !== before && (heading === name || name === 'Overview'))
            requestAnimationFrame(() => resolve(performance.now() - began));
          else requestAnimationFrame(look);
        };
        link?.click();
        look();
      }),
    station,
  );

/** Times how typing, dragging and changing stations feel on a stage that is open. */
export async function timeInteraction(page: Page): Promise<Interaction> {
  const rounds = async <T>(
    work: () => Promise<T>,
  ): Promise<readonly { readonly longest: number; readonly of: T }[]> => {
    const out: { readonly longest: number; readonly of: T }[] = [];
    for (let k = 0; k < ROUNDS; k += 1) {
      await page.waitForTimeout(REST);
      await watchTasks(page);
      const of = await work();
      out.push({ longest: await longestTask(page), of });
    }
    return out;
  };
  await goTo(page, 'Stage');
  const inductance = page.getByLabel('Inductance', { exact: true });
  const typed = await rounds(async () => {
    await inductance.fill('');
    await inductance.pressSequentially('8u2', { delay: 80 });
    await page.waitForTimeout(400);
    await inductance.press('Escape');
  });
  const cursor = await rounds(() => dragged(page, page.getByRole('slider', { name: /^Cursor A/ })));
  await goTo(page, 'Loop');
  await page.getByRole('button', { name: 'Gain and phase', exact: true }).click();
  const handle = await rounds(() => dragged(page, page.getByRole('slider', { name: /zero 1/i })));
  const stations: number[] = [];
  for (const station of STATIONS) await openedAfter(page, station);
  for (const station of STATIONS) {
    await page.waitForTimeout(REST);
    stations.push(await openedAfter(page, station));
  }
  const split = (of: typeof cursor) => ({
    longest: of.map(({ longest }) => longest),
    frames: of.map((one) => one.of),
  });
  return { typing: typed.map(({ longest }) => longest), cursor: split(cursor), handle: split(handle), stations };
}
