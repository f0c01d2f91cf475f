import { expect, goTo, ledgerLine, newStage, openStage, saveState, take, test } from '../desk';

test('the beginning of a number is neither designed, judged nor saved; the refused whole is said in the ledger', async ({
  page,
}) => {
  await newStage(page, 'Beginnings');
  const id = /stages\/([^/]+)/.exec(page.url())?.[1] ?? '';
  const stored = async (): Promise<number> =>
    page.evaluate(async (stage) => {
      const answer = (await (await fetch(`/api/stages/${stage}`)).json()) as {
        document: { targets: { outputVoltage: number } };
      };
      return answer.document.targets.outputVoltage;
    }, id);
  const output = page.getByLabel('Output voltage');
  const duty = await ledgerLine(page, 'dutyMax').innerText();
  await output.selectText();
  await output.pressSequentially('12', { delay: 250 });
  await expect(page.getByRole('alert')).toContainText('write less than 10\u2009V, or raise Lowest input voltage');
  await expect(page.locator('.ledger')).toContainText('Output voltage: judged with 5\u2009V; “12” is refused.');
  await output.blur();
  await page.waitForTimeout(900);
  expect(await stored()).toBe(5);
  expect(await ledgerLine(page, 'dutyMax').innerText()).toBe(duty);
  await expect(output).toHaveValue('12');

  await page.reload();
  await expect(output).toHaveValue('12');
  await expect(page.locator('.ledger')).toContainText('“12” is refused');
  await output.press('Escape');
  await expect(output).toHaveValue('5 V');
  await expect(page.locator('.ledger')).not.toContainText('is refused');

  await output.fill('13');
  await output.blur();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(output).toHaveValue('5 V');
});

test('what is being typed is shown as being typed, and saved only when it is taken', async ({ page }) => {
  await newStage(page, 'Typed');
  const output = page.getByLabel('Output voltage');
  await expect(saveState(page)).toHaveText('saved');
  await output.fill('3.3');
  await expect(page.locator('.ledger')).toContainText('As being typed, Output voltage 3.3');
  await expect(page.locator('.corners')).toContainText('0.3');
  await page.waitForTimeout(900);
  await expect(saveState(page)).toHaveText('saved');
  await page.reload();
  await expect(output).toHaveValue('3.3');
  await expect(page.getByRole('alert')).toContainText('press Enter here to take it');
  await output.press('Enter');
  await expect(output).toHaveValue('3.3 V');
  await expect(saveState(page)).toHaveText('saved');
  await output.fill('4,7');
  await output.press('Enter');
  await expect(output).toHaveValue('4.7 V');
  await output.fill('1,000');
  await expect(page.getByRole('alert')).toContainText('may mean either: write “1” or “1000”');
});

test('Ctrl+Z in a search acts on the search, in a field of the design on the design', async ({ page }) => {
  await newStage(page, 'Scratch');
  await take(page.getByLabel('Output voltage'), '3.3');
  await goTo(page, 'Inductor');
  const scratch = page.getByLabel('Saturation current at least');
  await scratch.fill('2');
  await scratch.press('Control+z');
  await goTo(page, 'Targets');
  await expect(page.getByLabel('Output voltage')).toHaveValue('3.3 V');
  await page.getByLabel('Output voltage').press('Control+z');
  await expect(page.getByLabel('Output voltage')).toHaveValue('5 V');
  await expect(page.getByLabel('Output voltage')).toBeFocused();
});

test('what shapes a stage is found on Stage: coupling, operating mode, dead time', async ({ page }) => {
  await openStage(page, 'Hull bus', 'Stage');
  await expect(page.getByLabel('Operating mode')).toBeVisible();
  await expect(page.getByLabel('Dead time')).toBeVisible();
  await expect(page.locator('.station')).toContainText('Coupling of the inductors: with more than one phase.');
  await take(page.getByLabel('Phases'), '2');
  await expect(page.getByLabel('Coupling', { exact: true })).toBeVisible();
});

test.describe('a part that fails', () => {
  // What fails is logged with its cause, as it should be.
  test.use({ tolerated: /was not answered|gave no answer|broke down|broken on purpose|Failed to fetch/ });

  test('a survey: its place says so, and trying again brings it', async ({ page }) => {
    // The first worker is the engine's; those after it are of the same script.
    let workers = 0;
    await page.route('**/engine.worker-*.js', (route) => (++workers === 1 ? route.continue() : route.abort()));
    await openStage(page, 'Hull bus');
    const fault = page.getByRole('alert').filter({ hasText: 'There is no verdict on the loop' });
    await expect(fault).toContainText('could not be started');
    await expect(ledgerLine(page, 'dutyMax')).toBeVisible();
    await page.unroute('**/engine.worker-*.js');
    await fault.getByRole('button', { name: 'Try again' }).click();
    await expect(fault).toHaveCount(0);
  });

  test('the engine: the ledger says so, and trying again works the stage', async ({ page }) => {
    await page.route('**/engine.worker-*.js', (route) => route.abort());
    await page.goto('/');
    await page.getByRole('link', { name: 'Hull bus', exact: true }).click();
    const fault = page.getByRole('alert').filter({ hasText: 'There is no verdict: a worker' });
    await expect(fault).toBeVisible();
    await page.unroute('**/engine.worker-*.js');
    await fault.getByRole('button', { name: 'Try again' }).click();
    await expect(ledgerLine(page, 'dutyMax')).toBeVisible();
  });

  test('a station that breaks down leaves rail and ledger alive', async ({ page }) => {
    await page.route('**/assets/LoopStation-*.js', (route) =>
      route.fulfill({
        contentType: 'text/javascript',
        body: 'export const LoopStation = () => { throw new Error("broken on purpose"); };',
      }),
    );
    await openStage(page, 'Hull bus');
    await goTo(page, 'Loop');
    await expect(page.getByRole('alert')).toContainText('The station broke down while it was drawn');
    await expect(ledgerLine(page, 'dutyMax')).toBeVisible();
    await goTo(page, 'Stage');
    await expect(page.getByLabel('Switching frequency', { exact: true })).toBeVisible();
  });
});

test('a stage deleted in another tab says so, never “saved”, and can be made anew', async ({ page, context }) => {
  await newStage(page, 'Doomed');
  const other = await context.newPage();
  await other.goto('/');
  await other.getByRole('button', { name: 'Delete Doomed' }).click();
  await expect(other.getByRole('button', { name: 'Undo' })).toBeFocused();
  await take(page.getByLabel('Output voltage'), '3.3');
  await expect(page.getByRole('alert')).toContainText('This stage was deleted meanwhile');
  await expect(saveState(page)).toHaveText('not saved: deleted elsewhere');
  // Opened again it is not there, but what was typed is.
  const address = page.url();
  await page.reload();
  await expect(page.getByRole('alert')).toContainText('There is no such stage');
  await expect(page.getByRole('alert')).toContainText('keeps a copy of “Doomed”');
  await expect(saveState(page)).toHaveCount(0);
  await page.getByRole('button', { name: 'Make it anew from the copy' }).click();
  await goTo(page, 'Targets');
  await expect(page.getByLabel('Output voltage')).toHaveValue('3.3 V');
  expect(page.url()).not.toBe(address);
  await expect(saveState(page)).toHaveText('saved');
});

test('an unknown station, and a stage that never was, say what can be done', async ({ page }) => {
  await openStage(page, 'Hull bus');
  await page.goto(page.url().replace('targets', 'nowhere'));
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('This stage has no such station');
  await page.goto('/stages/00000000-0000-4000-8000-000000000000/targets');
  await expect(page.getByRole('alert')).toContainText('keeps no unsaved edits of it');
  await page.getByRole('link', { name: 'Back to the shelf' }).click();
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible();
});

test('a handle moves by one press of an arrow key, to preferred values', async ({ page }) => {
  await openStage(page, 'Hull bus');
  await goTo(page, 'Loop');
  await page.getByRole('button', { name: 'Propose a compensator' }).click();
  await expect(page.getByText('What was chosen, and why')).toBeVisible();
  await expect(page.locator(':focus')).toContainText('What was chosen, and why');
  const pole = page.getByLabel('Frequency of zero 1');
  const value = () => pole.getAttribute('aria-valuetext');
  const before = await value();
  await pole.focus();
  await pole.press('ArrowRight');
  await expect.poll(value).not.toBe(before);
  await pole.press('ArrowLeft');
  await expect.poll(value).toBe(before);
});

test('stopping a scatter keeps what was worked', async ({ page }) => {
  await openStage(page, 'Hull bus');
  await goTo(page, 'Loop');
  await page.getByRole('button', { name: 'Tolerance' }).click();
  await page.getByRole('button', { name: /^Scatter/ }).click();
  const reading = page.getByTestId('spread-reading');
  await expect(reading).toContainText('keep margins and stability');
  await reading.getByRole('button', { name: 'Stop' }).click();
  await expect(reading).toContainText(/Stopped at \d+ %: \d+ of \d+ keep margins/);
  await expect(page.getByRole('img', { name: 'Margins of every set of parts' })).toBeVisible();
});

test('losses and efficiencies say what they leave out, where they stand; the total is called total', async ({
  page,
}) => {
  await openStage(page, 'Hull bus', 'Stage');
  await expect(page.getByRole('button', { name: /^Total loss/ })).toBeVisible();
  await goTo(page, 'Efficiency');
  const draws = page.getByLabel('Controller draws');
  const left = page.getByTestId('left-out');
  const sentence = 'The losses are without the current the controller itself draws, which is not stated.';
  await take(draws, '');
  await expect(left).toContainText(sentence);
  await expect(left).toContainText('The real loss is higher.');
  await goTo(page, 'Stage');
  await expect(left).toContainText(sentence);
  await goTo(page, 'Efficiency');
  await take(draws, '2m');
  await expect(page.locator('.station')).not.toContainText(sentence);
});

for (const [width, height] of [
  [640, 400],
  [1024, 700],
] as const) {
  test(`at ${String(width)} by ${String(height)} nothing scrolls sideways, no control is lost, and the ledger stays in view`, async ({
    page,
  }) => {
    await page.setViewportSize({ width, height });
    await openStage(page, 'Hull bus');
    for (const station of ['Targets', 'Stage', 'Inductor', 'Capacitors', 'Switches', 'Efficiency', 'Loop']) {
      await goTo(page, station);
      await expect(page.locator('.station h1')).toBeVisible();
      const seen = await page.evaluate(() => {
        const ledger = document.querySelector('.ledger')?.getBoundingClientRect();
        const scrolled = (e: Element): boolean => {
          for (let p = e.parentElement; p; p = p.parentElement)
            if (/auto|scroll/.test(getComputedStyle(p).overflowX) && p.scrollWidth > p.clientWidth + 1) return true;
          return false;
        };
        const lost = [...document.querySelectorAll('button, a[href], input, select')].filter((e) => {
          const { left, right, width: wide } = e.getBoundingClientRect();
          return (
            wide > 1 &&
            (right > innerWidth + 1 || left < -1) &&
            !scrolled(e) &&
            !e.closest('.visually-hidden-focusable')
          );
        });
        return {
          sideways: document.documentElement.scrollWidth - innerWidth,
          lost: lost.map((e) => e.textContent),
          ledger: ledger !== undefined && ledger.bottom <= innerHeight + 1 && ledger.height > 20,
        };
      });
      expect([station, seen]).toEqual([station, { sideways: 0, lost: [], ledger: true }]);
    }
    await expect(page.locator('.ledger')).toContainText(/holds \d+/);
    await page.getByRole('button', { name: 'Unfold the ledger' }).click();
    await expect(ledgerLine(page, 'dutyMax')).toBeVisible();
  });
}

test('focus is seen on every tab stop, in both themes', async ({ page }) => {
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme });
    await openStage(page, 'Hull bus', 'Stage');
    const unmarked: string[] = [];
    for (let stop = 0; stop < 60; stop += 1) {
      await page.keyboard.press('Tab');
      const mark = await page.evaluate(() => {
        const { outlineStyle, outlineWidth } = getComputedStyle(document.activeElement ?? document.body);
        return [
          document.activeElement?.tagName,
          outlineStyle,
          outlineWidth,
          document.activeElement?.textContent.slice(0, 30),
        ];
      });
      if (mark[0] === 'BODY') break;
      if (mark[1] === 'none' || mark[2] === '0px') unmarked.push(mark.join(' '));
    }
    expect([colorScheme, unmarked]).toEqual([colorScheme, []]);
  }
});
