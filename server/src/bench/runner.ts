import { setTimeout as wait } from 'node:timers/promises';
import type { BenchRun, Channel, Measuring, Reading, StartRun } from '@yundro/core';
import { addressOf } from './address.js';
import { calledInstruments, type Instrumentation } from './drivers.js';
import { InstrumentLine } from './line.js';

/** What a run is told to do while it goes on. */
export class RunControl {
  private pausing = false;
  private ended = false;
  private wake: (() => void) | undefined;

  pause(): void {
    this.pausing = true;
  }
  resume(): void {
    this.pausing = false;
    this.wake?.();
  }
  abort(): void {
    this.ended = true;
    this.wake?.();
  }
  get aborted(): boolean {
    return this.ended;
  }
  get paused(): boolean {
    return this.pausing && !this.ended;
  }
  /** Waits while it is paused. */
  async goOn(): Promise<void> {
    while (this.paused)
      await new Promise<void>((resolve) => {
        this.wake = resolve;
      });
  }
}

/** How a run is told of as it goes. */
export type RunTold = (change: Partial<Pick<BenchRun, 'readings' | 'captures' | 'state' | 'problem'>>) => Promise<void>;

type Point = BenchRun['points'][number];

/** Times a supply that was lost is called again to be switched off, and ms between. */
const AGAIN = 3;
const BETWEEN = 300;
/** Points of a swept response. */
const SWEPT = 40;
/** Share of the switching frequency up to which a loop is swept, and decades below it. */
const SWEEP = { to: 0.45, decades: 2.7 };

const METERED: readonly Channel[] = ['inputVoltage', 'inputCurrent', 'outputVoltage', 'outputCurrent'];
const BY_HAND = 'Switch it off by hand before you touch the board.';

/**
 * Let the instruments do a run, point by point from where it stands. Whatever ends it, load and supply are switched off; where the supply is
 * lost it is called again for that, and if it does not answer the designer is told to do it. Every reading is handed on as soon as it
 * is there.
 *
 * @param switchingFrequency Hz, of the stage: what a loop is swept to.
 */
export async function doRun(
  run: StartRun,
  switchingFrequency: number | undefined,
  control: RunControl,
  allowed: readonly string[],
  told: RunTold,
): Promise<void> {
  let bench: Instrumentation | undefined;
  let end: Pick<BenchRun, 'state' | 'problem'> = { state: 'done', problem: null };
  try {
    bench = await calledInstruments(run.asked.addresses, allowed);
    await measured(run, switchingFrequency, control, bench, told);
    if (control.aborted) end = { state: 'aborted', problem: 'The run was ended; what had been read is kept.' };
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    end = { state: 'lost', problem: `${why} What had been read is kept; the run can be taken up again.` };
  }
  const unsafe = await switchedOff(run.asked, bench, allowed);
  bench?.close();
  await told({
    ...end,
    ...(unsafe !== undefined && { state: 'lost' as const, problem: `${end.problem ?? ''} ${unsafe}`.trim() }),
  });
}

/** Every point that is still to be measured, one after another, until the run is ended. */
async function measured(
  run: StartRun,
  switchingFrequency: number | undefined,
  control: RunControl,
  bench: Instrumentation,
  told: RunTold,
): Promise<void> {
  const { supply, load } = bench;
  const { supplyLimit, settling } = run.asked;
  const readings = [...run.readings];
  const captures = [...run.captures];
  const captured = run.kind === 'load-step' || run.kind === 'loop';
  const began = Date.now() / 1000;
  const read = captured ? undefined : await reader(bench);
  const off = async (): Promise<void> => {
    await load.off();
    await supply.off();
  };
  await off();
  let on = false;
  for (const point of run.points.slice(captured ? captures.length : readings.length)) {
    if (control.paused) {
      // A run that waits leaves nothing under power.
      await off();
      on = false;
      await told({ state: 'paused' });
      await control.goOn();
      if (!control.aborted) await told({ state: 'running' });
    }
    if (control.aborted) return;
    const { step } = run.asked;
    if (run.kind === 'load-step' && step) await load.step(step.from, step.to);
    else await load.draw(point.outputCurrent);
    await supply.set(point.inputVoltage, supplyLimit);
    if (!on) await supply.on();
    on = true;
    await wait(settling * 1000);
    await load.on();
    await wait(settling * 1000);
    if (read) {
      readings.push({ ...(await read()), at: Math.round(10 * (Date.now() / 1000 - began)) / 10 });
      await told({ readings });
    } else {
      captures.push(await captureOf(run, point, switchingFrequency, bench));
      await told({ captures });
    }
  }
}

/** A line of the log out of all instruments that there are: asked once what they have, then read as often as is wanted. */
async function reader({ supply, load, meter, oscilloscope }: Instrumentation): Promise<() => Promise<Reading>> {
  const channels = meter ? await meter.channels() : [];
  const places = oscilloscope ? await oscilloscope.places() : [];
  return async () => {
    const read: Partial<Record<Channel, number>> = {
      supplyVoltage: await supply.voltage(),
      loadVoltage: await load.voltage(),
      inputCurrent: await supply.current(),
      outputCurrent: await load.current(),
    };
    for (const channel of METERED) if (meter && channels.includes(channel)) read[channel] = await meter.read(channel);
    if (oscilloscope && places.includes('output voltage'))
      read.outputRipple = await oscilloscope.peakToPeak('output voltage');
    if (oscilloscope && places.includes('inductor current'))
      read.inductorRipple = await oscilloscope.peakToPeak('inductor current');
    return (await supply.limits()) ? { ...read, limited: true } : read;
  };
}

/** A step of the load on the screen, or the loop as the analyser has it. */
function captureOf(
  { kind }: StartRun,
  { inputVoltage }: Point,
  switchingFrequency: number | undefined,
  { oscilloscope, analyser }: Instrumentation,
) {
  const at = `${inputVoltage.toPrecision(4)} V`;
  if (kind === 'load-step') {
    if (!oscilloscope) throw new Error('The oscilloscope was not called.');
    return oscilloscope.capture(`load step at ${at}`, ['output voltage', 'inductor current'], 'STEP');
  }
  if (!analyser) throw new Error('The analyser was not called.');
  if (switchingFrequency === undefined)
    throw new Error('A loop is swept to somewhat below half the switching frequency, and the stage states none.');
  const to = SWEEP.to * switchingFrequency;
  return analyser.sweep(`loop at ${at}`, to / 10 ** SWEEP.decades, to, SWEPT);
}

/**
 * Load and supply off, whatever happened.
 *
 * @returns what could not be switched off, in a sentence.
 */
async function switchedOff(
  { addresses }: Measuring,
  bench: Instrumentation | undefined,
  allowed: readonly string[],
): Promise<string | undefined> {
  // The supply first: without power the load has nothing to draw.
  const failed: string[] = [];
  for (const [words, role, command] of [
    ['The supply', 'supply', 'OUTPut OFF'],
    ['The load', 'load', 'INPut OFF'],
  ] as const) {
    try {
      if (!bench) throw new Error('not called');
      await bench[role].off();
    } catch {
      if (!(await offAnew(words, addresses[role], command, allowed))) failed.push(words);
    }
  }
  // Nothing was switched on where the bench was never called.
  if (!bench || failed.length === 0) return undefined;
  return failed.includes('The supply')
    ? `The supply could not be switched off. ${BY_HAND}`
    : 'The load could not be switched off; the supply is.';
}

async function offAnew(words: string, text: string, command: string, allowed: readonly string[]): Promise<boolean> {
  const address = addressOf(text, allowed);
  if (typeof address === 'string') return false;
  for (let k = 0; k < AGAIN; k += 1) {
    try {
      const line = await InstrumentLine.to(words, address);
      await line.tell(command);
      line.close();
      return true;
    } catch {
      await wait(BETWEEN);
    }
  }
  return false;
}
