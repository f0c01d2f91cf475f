import { problemsSentence, readStage, STAGE_TEXT_LIMIT, writeStage, type Result, type Stage } from '@yundro/core';
import { askEngine } from '../engine/engineClient';

/** Read a file dropped or chosen as a stage, without loading a huge one into memory. */
export async function stageFromFile(file: File): Promise<Result<Stage>> {
  // One character over the limit is enough for the reader to refuse it with its own sentence.
  if (file.size > STAGE_TEXT_LIMIT) {
    return {
      ok: false,
      problems: [
        {
          code: 'too-large',
          path: '',
          received: `${(file.size / 1e6).toFixed(1)} MB`,
          expected: `${String(STAGE_TEXT_LIMIT / 1e6)} MB`,
        },
      ],
    };
  }
  return readStage(await file.text());
}

/** The sentence for a file that was refused. */
export function refusal(file: File, result: Extract<Result<Stage>, { ok: false }>): string {
  return `${file.name} was not taken. ${problemsSentence(result.problems)}`;
}

/** Hand a stage to the designer as a file. */
export function downloadStage(stage: Stage): void {
  const address = URL.createObjectURL(new Blob([writeStage(stage)], { type: 'application/json' }));
  const link = document.createElement('a');
  link.href = address;
  link.download = `${
    stage.name
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '')
      .toLowerCase() || 'stage'
  }.json`;
  link.click();
  URL.revokeObjectURL(address);
}

/** A stage with everything chosen from its targets by the engine, in its worker. */
export const chosenFrom = async (bare: Stage): Promise<Stage> =>
  (await askEngine((engine) => engine.work(0, bare, true))).stage;
