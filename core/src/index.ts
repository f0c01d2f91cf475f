/** The core of Yundro, grouped by what a designer does with it. */

// Read and write numbers and stage files.
export { formatQuantity, parseQuantity, printQuantity, type PrintedQuantity } from './quantity/engineering.js';
export { UNITS, type Unit } from './quantity/unit.js';
export {
  nearestPreferred,
  nextPreferredDown,
  nextPreferredUp,
  preferredAtLeast,
  preferredAtMost,
  PREFERRED_SERIES,
  type PreferredSeries,
} from './quantity/preferredValues.js';
export { good, refused, type Problem, type Result } from './result.js';
export {
  PINNABLE,
  STAGE_FORMAT,
  STAGE_VERSION,
  stageField,
  stageSchema,
  type Pinnable,
  type Stage,
  type StageInput,
  type Topology,
} from './stage/schema.js';
export type { FieldMeta } from './stage/field.js';
export type { CapacitorBank } from './stage/partsSchema.js';
export { checked, pathText, readStage, STAGE_TEXT_LIMIT, stageFromDocument, writeStage } from './stage/readStage.js';
export { problemSentence, problemsSentence } from './stage/problemSentence.js';
export { cautionsOf } from './stage/cautions.js';
export { stageJsonSchema } from './stage/jsonSchema.js';
export { completeStage, LEG_PLACES, type CompleteStage } from './stage/completeStage.js';

// Work a stage.
export { nominalInput } from './corners/corners.js';
export { regionBorders } from './topology/fourSwitchBuckBoost.js';
export type { OperatingCondition } from './topology/powerStage.js';
export {
  operatingPoint,
  operatingPointSchema,
  type OperatingPoint,
  type SolvedPoint,
  type UnsolvedPoint,
} from './steady/operatingPoint.js';
export { points, withoutMean, type Points } from './steady/measures.js';
export { currentOf, nodeVoltage } from './steady/signal.js';
export {
  evaluateStage,
  evaluationSchema,
  type CornerResult,
  type EvaluatedStage,
  type Evaluation,
} from './corners/evaluate.js';
export { spiceNetlist } from './netlist/spiceNetlist.js';
export { verdictSchema, verdictSummary, verdictWord, type Verdict, type VerdictWord } from './corners/verdict.js';
export { sizeStage, type SizedStage } from './sizing/size.js';
export type { Choice } from './sizing/choice.js';

// See how a number came about.
export { figureKeys, valueOf, workingOf, type Working, type WorkingInput } from './working/working.js';
export type { AppliedForm } from './working/closedForm.js';

// Speak with the server.
export * from './api/schemas.js';
