import type { StageStore } from '../stageStore.js';
import type { PartStore } from '../partStore.js';
import { demoParts } from './demoParts.js';
import { skerry9 } from './skerry9.js';

/** Put the demo project on an empty shelf. Returns whether it did. */
export async function seedDemo(store: StageStore, library: PartStore): Promise<boolean> {
  if ((await store.shelf()).length > 0) return false;
  await store.createProject(skerry9.name, skerry9.stages);
  await library.add(demoParts(skerry9.stages));
  return true;
}
