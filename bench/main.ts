/** `npm run bench`: how long the work takes that a designer waits for, beside the figure it must keep to. */
import { besideSpice } from './besideSpice.js';
import { inTheBrowser } from '../e2e/browserBench.js';
import { cornerSet, floorPlan, loopResponse, singlePoint, switchRanking } from './engine.js';
import { reference } from './reference.js';
import { timingOf, type Timing } from './timing.js';
import { besideSpiceInTime, longRun, transientVerdicts } from './transients.js';

const ms = (value: number): string => `${value < 10 ? value.toFixed(2) : value.toFixed(0)} ms`;

const yardstick = reference();
process.stdout.write(
  `yardstick: 1,000 products of 12 × 12 matrices, median ${ms(yardstick.median)}, quickest ${ms(yardstick.quickest)}\n`,
);

function line(what: string, { median, quickest, runs }: Timing, limit: number): void {
  const share = (median / limit).toFixed(2);
  process.stdout.write(
    `${what.padEnd(58)} median ${ms(median).padStart(8)}   of ${ms(limit)}: ${share}   yardsticks ${(median / yardstick.median).toFixed(2)}   quickest ${ms(quickest)}, ${String(runs)} runs\n`,
  );
}

line('one operating point, single phase, cold start', singlePoint(), 2);
line('15 corners with verdicts, single phase', cornerSet('Hull bus', 60), 60);
line('15 corners with verdicts, four phases, two output banks', cornerSet('Echo core', 60), 60);
line('ranking 500 MOSFETs, both positions, 12 loads', switchRanking(), 1000);
line('exact loop of one corner, 400 frequencies', loopResponse(), 5);
line('a floor plan proposed, single phase', floorPlan(), 300);
line('5,000 periods in time, single phase', longRun('Hull bus', 7), 200);
line('5,000 periods in time, four phases', longRun('Echo core', 5), 800);
line('load step judged at every corner, single phase', transientVerdicts('Hull bus', 7), 500);
line('load step judged at every corner, four phases', transientVerdicts('Echo core', 5), 2000);
const inTime = besideSpiceInTime('Hull bus');
process.stdout.write(
  `closed loop in time: ${inTime.simulator.toFixed(0)} periods a second, ngspice ${inTime.spice.toFixed(0)}, ratio ${(inTime.simulator / inTime.spice).toFixed(0)} of at least 500\n`,
);
const browser = await inTheBrowser();
line('from key to changed verdict on the screen', browser.edit, 100);
line('efficiency map, first picture on the screen', browser.firstMap, 150);
line('efficiency map, 40 × 10 points in three modes', browser.fineMap, 1000);
line('a zero dragged, plot, margins and values of all corners', browser.drag, 33);
const { typing, cursor, handle, stations } = browser.interaction;
line('longest task of the page while typing', timingOf(typing), 50);
line('longest task while a cursor is dragged', timingOf(cursor.longest), 50);
line('longest task while a zero is dragged', timingOf(handle.longest), 50);
line('a station opened that was open before', timingOf(stations), 300);
for (const [what, frames] of [
  ['a cursor', cursor.frames],
  ['a zero', handle.frames],
] as const)
  process.stdout.write(
    `frames a second while ${what} is dragged: median ${timingOf(frames).median.toFixed(0)}, most ${timingOf(frames).slowest.toFixed(0)}\n`,
  );
line('loop over tolerance, first cloud', browser.firstCloud, 300);
line('loop over tolerance, 2,000 sets of parts', browser.cloud, 5000);
line('shelf of 200 stages, right after a restart', browser.firstShelf, 2000);
line('shelf of 200 stages, later', browser.shelf, 500);
for (const [what, bytes, limit] of [
  ['first visit to the shelf', browser.transfer.shelf, 250e3],
  ['first visit to a stage, workers and all', browser.transfer.stage, 450e3],
] as const)
  process.stdout.write(
    `${what.padEnd(58)} ${(bytes / 1e3).toFixed(0)} kB over the wire, of ${String(limit / 1e3)} kB\n`,
  );
process.stdout.write('\nsteady state of the same circuit: engine from nothing, ngspice over 40 periods\n');
for (const [name, vin, current] of [
  ['Hull bus', 25.6, 8],
  ['Mast radio', 24, 2.5],
  ['Hydrophone bias', 12, 0.6],
  ['Echo core', 12, 60],
] as const) {
  const { engine, spice, apart } = besideSpice(name, vin, current);
  process.stdout.write(
    `${name.padEnd(20)} engine ${ms(engine).padStart(8)}   ngspice ${ms(spice).padStart(9)}   ratio ${(spice / engine).toFixed(0).padStart(5)}   apart ${(100 * apart).toFixed(3)} %\n`,
  );
}
