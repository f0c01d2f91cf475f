import type { StageStore } from '../stageStore.js';
import type { PartStore } from '../partStore.js';
import type { BenchStore } from '../bench/benchStore.js';
import { demoRun } from './demoRun.js';
import { demoParts } from './demoParts.js';
import { skerry9 } from './skerry9.js';

/** Put the demo project on an empty shelf. Returns whether it did. */
export async function seedDemo(store: StageStore, library: PartStore, bench: BenchStore): Promise<boolean> {
  if ((await store.shelf()).length > 0) return false;
  const project = await store.createProject(skerry9.name, skerry9.stages);
  await library.add(demoParts(skerry9.stages));
  const [first] = (await store.shelf()).find(({ id }) => id === project)?.stages ?? [];
  const [measured] = skerry9.stages;
  const run = measured && demoRun(measured);
  if (first && run) await bench.create(first.id, run);
  return true;
}
