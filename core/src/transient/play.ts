import { LOAD_TEST } from '../smallsignal/loopCircuit.js';
import type { Run } from './run.js';
import type { Happening, Scenario } from './scenario.js';

/** Cancelled from outside. */
export class CancelledRun extends Error {}

/** What is to be done on the way through a run. */
export interface Stops {
  readonly cycles: number;
  /** Ticks to stop at, besides the happenings, and what is looked at there; before anything that is due there. */
  readonly looks: readonly { readonly tick: number; readonly look: () => void }[];
  /** Asked at each clock once nothing more is to happen: the run is over where it is true. */
  readonly over?: (() => boolean) | undefined;
  /** Told the share that is done now and then; the run is given up where it answers false. */
  readonly progress?: ((share: number) => boolean) | undefined;
}

/** Let everything happen at its time: all that happens at one tick changes at once, and then the switches find their places. */
export function play(run: Run, happenings: Scenario['happenings'], { cycles, looks, over, progress }: Stops): void {
  const end = cycles * run.period;
  const ticksOf = (at: number): number => Math.min(end, Math.max(0, Math.round(at / run.tickTime)));
  const acts = new Map<number, Happening[]>();
  for (const one of happenings) acts.set(ticksOf(one.at), [...(acts.get(ticksOf(one.at)) ?? []), one]);
  const stops = [...new Set([0, ...acts.keys(), ...looks.map(({ tick }) => tick)])].sort((a, b) => a - b);
  const slice = Math.max(run.period, Math.round(end / 100 / run.period) * run.period);
  const goTo = (tick: number): void => {
    while (run.tick < tick) {
      run.advance(Math.min(tick, run.tick + slice));
      if (progress && !progress(run.tick / end)) throw new CancelledRun();
    }
  };
  for (const tick of stops) {
    goTo(tick);
    for (const { look } of looks.filter((one) => one.tick === tick)) look();
    const now = acts.get(tick);
    for (const one of now ?? []) happen(run, one);
    if (now || tick === 0) run.settle();
  }
  if (over) {
    goTo(Math.min(end, Math.ceil(run.restsFrom / run.period) * run.period));
    while (run.tick < end && !over()) run.advance(run.tick + run.period);
  } else goTo(end);
}

/** What an event of the scenario changes. */
function happen(run: Run, happening: Happening): void {
  const { drawn } = run;
  switch (happening.kind) {
    case 'load': {
      const { by, slewRate } = happening;
      const within = slewRate === undefined ? 0 : Math.abs(by) / slewRate;
      run.moveSource(LOAD_TEST, run.sourceTarget(LOAD_TEST) + drawn.sign * by, within);
      break;
    }
    case 'line':
      run.moveSource('source', run.sourceTarget('source') + happening.by, happening.within ?? 0);
      break;
    case 'phases':
      run.letWork(happening.working);
      break;
    case 'short': {
      run.shorted = happening.resistance !== undefined;
      if (run.layout.moving.includes('load')) run.moveSource('load', run.shorted ? 0 : run.sourceAtRest('load'));
      break;
    }
  }
}
