import { setTimeout as wait } from 'node:timers/promises';
import type { BenchRun, Capture, Channel, Reading, StartRun } from '@yundro/core';
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
  request: StartRun,
  switchingFrequency: number,
  control: RunControl,
  allowed: readonly string[],
  told: RunTold,
): Promise<void> {
  const { run, addresses } = request;
  const readings: Reading[] = [...run.readings];
  const captures: Capture[] = [...run.captures];
  const began = Date.now() / 1000;
  let bench: Instrumentation | undefined;
  let end: Pick<BenchRun, 'state' | 'problem'> = { state: 'done', problem: null };
  try {
    bench = await calledInstruments(addresses, allowed);
    const { supply, load } = bench;
    await load.off();
    await supply.off();
    let on = false;
    const settle = async (inputVoltage: number): Promise<void> => {
      await supply.set(inputVoltage, request.supplyLimit);
      if (!on) {
        await supply.on();
        on = true;
      }
      await wait(request.settling * 1000);
    };
    const ended = async (): Promise<boolean> => {
      if (control.paused) {
        // A run that waits leaves nothing under power.
        await load.off();
        await supply.off();
        on = false;
        await told({ state: 'paused' });
        await control.goOn();
        if (!control.aborted) await told({ state: 'running' });
      }
      return control.aborted;
    };
    if (run.kind === 'load-step' || run.kind === 'loop') {
      for (const { inputVoltage, outputCurrent } of run.points.slice(captures.length)) {
        if (await ended()) break;
        const { step } = request;
        const stepping = run.kind === 'load-step';
        if (stepping && step) await load.step(step.from, step.to);
        else await load.draw(outputCurrent);
        await settle(inputVoltage);
        await load.on();
        const at = `${inputVoltage.toPrecision(4)} V`;
        if (stepping) {
          if (!bench.oscilloscope) throw new Error('A load step needs an oscilloscope: name its address.');
          captures.push(
            await bench.oscilloscope.capture(`load step at ${at}`, ['output voltage', 'inductor current'], 'STEP'),
          );
        } else {
          if (!bench.analyser) throw new Error('A loop needs a response analyser: name its address.');
          const to = SWEEP.to * switchingFrequency;
          captures.push(await bench.analyser.sweep(`loop at ${at}`, to / 10 ** SWEEP.decades, to, SWEPT));
        }
        await told({ captures });
        await load.off();
      }
    } else {
      const channels = bench.meter ? await bench.meter.channels() : [];
      const places = bench.oscilloscope ? await bench.oscilloscope.places() : [];
      for (const { inputVoltage, outputCurrent } of run.points.slice(readings.length)) {
        if (await ended()) break;
        await load.draw(outputCurrent);
        await settle(inputVoltage);
        await load.on();
        await wait(request.settling * 1000);
        const read: Partial<Record<Channel, number>> = {
          supplyVoltage: await supply.voltage(),
          loadVoltage: await load.voltage(),
        };
        for (const channel of METERED) {
          if (bench.meter && channels.includes(channel)) read[channel] = await bench.meter.read(channel);
          else if (channel === 'inputCurrent') read[channel] = await supply.current();
          else if (channel === 'outputCurrent') read[channel] = await load.current();
        }
        if (bench.oscilloscope) {
          read.outputRipple = await bench.oscilloscope.peakToPeak('output voltage');
          if (places.includes('inductor current'))
            read.inductorRipple = await bench.oscilloscope.peakToPeak('inductor current');
        }
        const limited = await supply.limits();
        readings.push({ ...read, ...(limited && { limited }), at: Math.round(10 * (Date.now() / 1000 - began)) / 10 });
        await told({ readings });
      }
    }
    if (control.aborted) end = { state: 'aborted', problem: 'The run was ended; what had been read is kept.' };
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    end = { state: 'lost', problem: `${why} What had been read is kept; the run can be taken up again.` };
  }
  const unsafe = await switchedOff(request, bench, allowed);
  bench?.close();
  await told({
    ...end,
    ...(unsafe !== undefined && { state: 'lost' as const, problem: `${end.problem ?? ''} ${unsafe}`.trim() }),
  });
}

/**
 * Load and supply off, whatever happened.
 *
 * @returns what could not be switched off, in a sentence.
 */
async function switchedOff(
  { addresses }: StartRun,
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
