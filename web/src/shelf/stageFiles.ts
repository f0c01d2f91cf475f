import {
  problemsSentence,
  readStage,
  stageSchema,
  STAGE_TEXT_LIMIT,
  writeStage,
  type Result,
  type Stage,
} from '@yundro/core';
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

/** What a new stage starts from: middling targets, and everything else chosen from them by the engine in its worker. */
export async function newStage(name: string): Promise<Stage> {
  const bare = stageSchema.parse({
    format: 'yundro-stage',
    version: 1,
    name,
    topology: 'buck',
    targets: {
      inputVoltage: { min: 10, nominal: 12, max: 14 },
      outputVoltage: 5,
      outputCurrent: { min: 0.1, max: 3 },
      outputRipple: 0.05,
      inputRipple: 0.2,
      inductorRippleRatio: 0.35,
    },
  });
  return (await askEngine((engine) => engine.work(0, bare, true))).stage;
}
