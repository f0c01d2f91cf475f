import { parentPort, workerData } from 'node:worker_threads';
import type { Instruments, Stage } from '@yundro/core';
import { standInsAbout } from './instruments.js';
import { Table } from './table.js';

/** A thread of its own in which the simulated instruments stand: a board that is simulated keeps nobody waiting. */
const { stage, instruments, seed } = workerData as { stage: Stage; instruments: Instruments; seed: number };
const { addresses } = await standInsAbout(new Table(stage, instruments, seed));
parentPort?.postMessage(addresses);
