import { workerData } from 'node:worker_threads';

/** Share of its patience that a command spends on what it was asked, before it leaves out what it can do without. */
const SHARE = 0.6;

/** Whether there is processor time left for what a command can do without. */
export function timeLeft(): boolean {
  const { seconds = Infinity } = (workerData ?? {}) as { readonly seconds?: number };
  const { user, system } = process.cpuUsage();
  return (user + system) / 1e6 < SHARE * seconds;
}
