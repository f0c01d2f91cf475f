/** The core of Yundro, grouped by what a designer does with it. */

// Read and write numbers and stage files.
export {
  formatQuantity,
  NOT_WORKED,
  parseQuantity,
  printQuantity,
  sentenceQuantity,
  type PrintedQuantity,
} from './quantity/engineering.js';
export { readComma, type CommaMeaning, type FileCommas } from './quantity/comma.js';
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
} from './stage/schema.js';
export { TOPOLOGIES, TOPOLOGY_NAMES, topologyOf, type TopologyName } from './topology/topologies.js';
export type { SwitchPlace, Topology } from './topology/topology.js';
export { pathKey, pathText, valueAt, withValue, type StagePath } from './stage/place.js';
export type { FieldMeta } from './stage/field.js';
export type { CapacitorBank } from './stage/partsSchema.js';
export { checked, readStage, STAGE_TEXT_LIMIT, stageFromDocument, writeStage } from './stage/readStage.js';
export { problemSentence, problemsSentence } from './stage/problemSentence.js';
export { fieldFault, nameOf, type OnScreen } from './stage/fieldFault.js';
export { cautionsOf } from './stage/cautions.js';
export { stageJsonSchema } from './stage/jsonSchema.js';
export { completeStage, SWITCH_WORDS, type CompleteStage } from './stage/completeStage.js';

// Work a stage.
export { nominalInput } from './stage/nominalInput.js';
export type { Corner } from './corners/corners.js';
export { ROOM_TEMPERATURE } from './thermal/room.js';
export type { OperatingCondition } from './powerstage/powerStage.js';
export {
  operatingPoint,
  operatingPointSchema,
  type OperatingPoint,
  type SolvedPoint,
} from './steady/operatingPoint.js';
export type { UnsolvedPoint } from './steady/solveCircuit.js';
export { points, type Points } from './orbit/measures.js';
export { currentOf, nodeVoltage, voltageOf } from './orbit/signal.js';
export { stageSignals, waveformMeasures, type StageSignal, type WaveformMeasures } from './steady/stageSignals.js';
export { schematicOf, type Carried, type PlacedElement, type Schematic } from './schematic/schematic.js';
export type { Element } from './circuit/elements.js';
export { elementWords, nodeWords } from './powerstage/elementWords.js';
export {
  evaluateStage,
  leftOutSentences,
  evaluationSchema,
  type CornerResult,
  type EvaluatedStage,
  type Evaluation,
} from './corners/evaluate.js';
export { inductanceCurveOf } from './parts/inductanceCurve.js';
export { ledgerOf, type LedgerLine } from './corners/ledger.js';
export { conversionRatio, type ConversionRatio } from './survey/conversionRatio.js';
export { conductionMap, type ConductionMap } from './survey/conductionMap.js';
export { frequencyStudy, type FrequencyPoint, type FrequencyStudy } from './survey/frequencyStudy.js';
export { efficiencyCurve, loadsOf, type EfficiencyCurve, type EfficiencyPoint } from './survey/efficiency.js';
export { COARSE_GRID, FINE_GRID, mapRows, mapsOf, type EfficiencyMap, type MapRow } from './survey/efficiencyMap.js';
export { operatingPointIn, type OperatingMode } from './modes/operatingMode.js';
export { topologyAdvice, type Advice } from './advice/topologyAdvice.js';
export { spiceNetlist } from './netlist/spiceNetlist.js';
export {
  verdictSchema,
  verdictSummary,
  marginText,
  verdictWord,
  type Verdict,
  type VerdictWord,
} from './corners/verdict.js';
export { sizeStage, type SizedStage } from './sizing/size.js';
export { dampedInputFilter } from './sizing/inputFilter.js';
export { dividers, type Divider } from './sizing/divider.js';
export type { Choice } from './sizing/choice.js';

// See how a number came about.
export { figureKeys, valueOf, workingOf, type Working, type WorkingInput } from './working/working.js';
export { boundaryWorking, peakRatioWorking } from './working/surveyWorkings.js';
export { bootstrapCapacitance, gateResistanceForEdge } from './firstcut/gateForms.js';
export {
  ringingCapacitance,
  ringingFrequency,
  ringingInductance,
  SNUBBER_MULTIPLE,
  snubberLoss,
  snubberResistance,
} from './firstcut/snubberForms.js';
export { mosfetOutputCharge } from './losses/outputCharge.js';
export { paralleledMosfet } from './stage/paralleledMosfet.js';
export { applied } from './firstcut/closedForm.js';
export { pulseRatio } from './firstcut/pulseRatio.js';
export type { AppliedForm } from './firstcut/closedForm.js';

// Choose from a library of parts.
export {
  LIBRARY_SCHEMAS,
  PART_KINDS,
  partColumns,
  type PartColumn,
  type PartKind,
  type PartOf,
} from './library/libraryPart.js';
export {
  partCells,
  partCellText,
  commasOfRows,
  readPartRows,
  suggestedMapping,
  type ColumnMapping,
  type ReadParts,
  type RefusedRow,
} from './library/readPartRows.js';
export { typicalMosfet } from './library/typicalMosfet.js';
export { genericParts } from './library/genericParts.js';

export {
  INDUCTOR_MARGINS,
  selectInductors,
  type InductorCandidate,
  type InductorMargins,
} from './selection/inductors.js';
export { bankOf, selectCapacitors, type CapacitorCandidate } from './selection/capacitors.js';
export { bankStresses, type BankStress } from './selection/bankStress.js';
export { compareRectifiers, type RectifiedStage, type RectifierComparison } from './advice/rectifiers.js';
export { gateChecks, type GateCheck } from './selection/gateChecks.js';
export {
  selectSwitches,
  SWITCH_MARGINS,
  type ProfilePoint,
  type SwitchCandidate,
  type SwitchMargins,
} from './selection/switches.js';
export { LOSS_KINDS, lossesByKind, type LossKind } from './losses/lossKinds.js';
export { inputCapacitorNeeds, outputCapacitorNeeds, type CapacitorNeeds } from './selection/capacitorNeeds.js';
export { inputFilterCheck, type InputFilterCheck } from './selection/inputFilterCheck.js';
export { inputRmsPeak } from './selection/inputRmsPeak.js';

// Speak with the server.
export * from './api/schemas.js';
export { loopAt, loopFrequencies, loopGain, type LoopPoint, type LoopReport } from './smallsignal/loopResponse.js';
export { unwrapped, type Margin } from './smallsignal/margins.js';
export { decibels, degreesOf, magnitude, product, ratio, type Complex } from './linalg/complex.js';
export { judgeLoop, withLoop, type JudgedLoop } from './corners/loopVerdicts.js';
export { type CornerLoop } from './corners/loopCorners.js';
export { sizeLoop } from './sizing/sizeLoop.js';
export { proposeLoop, type Procedure, type ProposedLoop } from './sizing/compensation.js';
export {
  completeCompensator,
  usesNetwork,
  type Compensator,
  type CompleteCompensator,
} from './controller/compensatorCircuit.js';
export { compensatorResponse } from './controller/compensatorResponse.js';
export { componentsOf, shapeOf, type Components, type Shape } from './controller/shape.js';
export { bandFrequencies, loopSampler, type Sample } from './tolerance/monteCarlo.js';
export { DEFAULT_TOLERANCES, loopSpreads } from './tolerance/loopSpreads.js';
export {
  readResponse,
  type PhaseConvention,
  type ReadResponse,
  type ResponseReading,
} from './measured/readResponse.js';
export type { ResponseColumns } from './measured/responseColumns.js';
export { loopCsv, responseCsv } from './measured/responseCsv.js';
export { preferredComponents } from './sizing/networkParts.js';
export { steppedComponents, type ShapeHandle } from './sizing/stepShape.js';
export {
  crossingsSentence,
  marginsOf,
  type GainCrossing,
  type Margins,
  type ResponsePoint,
} from './smallsignal/margins.js';
export { LOOP_BREAK_WORDS, type LoopBreak } from './controller/controllerOf.js';
export { plantResponse } from './smallsignal/plantResponse.js';
export { type NoLoop } from './smallsignal/loopResponse.js';
export { controlForms, plantForms } from './working/plantWorking.js';
export { averagedPlant } from './smallsignal/averaged.js';
export { interpolated } from './smallsignal/interpolated.js';
export { inputImpedances, type InputImpedances, type Nearest } from './smallsignal/inputImpedance.js';
export { predictedStep, type PredictedStep } from './smallsignal/predictedStep.js';
export { type CrossoverLimit, DEFAULT_CROSSOVER_LIMITS } from './corners/crossoverLimits.js';
export { type CornerMargins } from './corners/loopCorners.js';
export { slopeByRule, SLOPE_RULES, SLOPE_WORDS, type SlopeRule } from './sizing/slopeCompensation.js';
export { closeLoop } from './smallsignal/closedLoop.js';
export { closedLoopNetlist } from './netlist/closedLoopNetlist.js';
