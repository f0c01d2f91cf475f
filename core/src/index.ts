/** The core of Yundro, grouped by what a designer does with it. All that is named here is public, and tagged so where it stands. */

// Numbers as engineers write them.
export {
  sentenceQuantity,
  printQuantity,
  parseQuantity,
  NOT_WORKED,
  formatQuantity,
  type PrintedQuantity,
} from './quantity/engineering.js';
export { readComma, type FileCommas, type CommaMeaning } from './quantity/comma.js';
export { UNITS, type Unit } from './quantity/unit.js';
export {
  PREFERRED_SERIES,
  preferredAtLeast,
  preferredAtMost,
  nextPreferredDown,
  nearestPreferred,
  nextPreferredUp,
  type PreferredSeries,
} from './quantity/preferredValues.js';
export { refused, good, type Result, type Problem } from './result.js';

// Stage files: read, write, and what is wrong with one.
export {
  PINNABLE,
  stageSchema,
  STAGE_VERSION,
  STAGE_FORMAT,
  stageField,
  type Pinnable,
  type StageInput,
  type Stage,
} from './stage/schema.js';
export { pathKey, pathText, valueAt, withValue, type StagePath } from './stage/place.js';
export type { FieldMeta } from './stage/field.js';
export { nameOf, fieldFault, type OnScreen } from './stage/fieldFault.js';
export type { CapacitorBank } from './stage/partsSchema.js';
export { STAGE_TEXT_LIMIT, stageFromDocument, readStage, checked, writeStage } from './stage/readStage.js';
export { problemsSentence, problemSentence } from './stage/problemSentence.js';
export { cautionsOf } from './stage/cautions.js';
export { stageJsonSchema } from './stage/jsonSchema.js';
export { SWITCH_WORDS, completeStage, type CompleteStage } from './stage/completeStage.js';
export { nominalInput } from './stage/nominalInput.js';
export { paralleledMosfet } from './stage/paralleledMosfet.js';

// Topologies, and which of them the targets ask for.
export { TOPOLOGIES, topologyOf, TOPOLOGY_NAMES, type TopologyName } from './topology/topologies.js';
export type { SwitchPlace, Topology } from './topology/topology.js';
export { topologyAdvice, type Advice } from './advice/topologyAdvice.js';
export { compareRectifiers, type RectifierComparison, type RectifiedStage } from './advice/rectifiers.js';

// From targets to a stage.
export { sizeStage, type SizedStage } from './sizing/size.js';
export { sizeLoop } from './sizing/sizeLoop.js';
export type { Choice } from './sizing/choice.js';
export { dampedInputFilter } from './sizing/inputFilter.js';
export { dividers, type Divider } from './sizing/divider.js';

// The steady state at an operating point: figures, waveforms, the drawing.
export {
  operatingPoint,
  operatingPointSchema,
  type OperatingPoint,
  type SolvedPoint,
} from './steady/operatingPoint.js';
export type { UnsolvedPoint } from './steady/solveCircuit.js';
export { stageSignals, waveformMeasures, type WaveformMeasures, type StageSignal } from './steady/stageSignals.js';
export { points, type Points } from './orbit/measures.js';
export { currentOf, nodeVoltage, voltageOf } from './orbit/signal.js';
export type { OperatingCondition } from './powerstage/powerStage.js';
export { elementWords, nodeWords } from './powerstage/elementWords.js';
export type { Element } from './circuit/elements.js';
export { schematicOf, type PlacedElement, type Carried, type Schematic } from './schematic/schematic.js';
export { operatingPointIn, type OperatingMode } from './modes/operatingMode.js';
export { inductanceCurveOf } from './parts/inductanceCurve.js';
export { ROOM_TEMPERATURE } from './thermal/room.js';

// Every corner, and a verdict for every target.
export type { Corner } from './corners/corners.js';
export {
  evaluateStage,
  evaluationSchema,
  leftOutSentences,
  type Evaluation,
  type CornerResult,
  type EvaluatedStage,
} from './corners/evaluate.js';
export { ledgerOf, type LedgerLine } from './corners/ledger.js';
export {
  verdictSchema,
  verdictWord,
  verdictSummary,
  marginText,
  type Verdict,
  type VerdictWord,
} from './corners/verdict.js';

// Over a range: conversion ratio, conduction, frequency, efficiency.
export { conversionRatio, type ConversionRatio } from './survey/conversionRatio.js';
export { conductionMap, type ConductionMap } from './survey/conductionMap.js';
export { frequencyStudy, type FrequencyStudy, type FrequencyPoint } from './survey/frequencyStudy.js';
export { efficiencyCurve, loadsOf, type EfficiencyCurve, type EfficiencyPoint } from './survey/efficiency.js';
export { COARSE_GRID, mapRows, mapsOf, FINE_GRID, type MapRow, type EfficiencyMap } from './survey/efficiencyMap.js';
export { LOSS_KINDS, lossesByKind, type LossKind } from './losses/lossKinds.js';

// Parts from a library.
export {
  LIBRARY_SCHEMAS,
  partColumns,
  PART_KINDS,
  type PartColumn,
  type PartKind,
  type PartOf,
} from './library/libraryPart.js';
export {
  commasOfRows,
  partCellText,
  partCells,
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
  type InductorMargins,
  type InductorCandidate,
} from './selection/inductors.js';
export { selectCapacitors, bankOf, type CapacitorCandidate } from './selection/capacitors.js';
export { bankStresses, type BankStress } from './selection/bankStress.js';
export { gateChecks, type GateCheck } from './selection/gateChecks.js';
export {
  selectSwitches,
  SWITCH_MARGINS,
  type SwitchMargins,
  type SwitchCandidate,
  type ProfilePoint,
} from './selection/switches.js';
export { inputCapacitorNeeds, outputCapacitorNeeds, type CapacitorNeeds } from './selection/capacitorNeeds.js';
export { inputFilterCheck, type InputFilterCheck } from './selection/inputFilterCheck.js';
export { inputRmsPeak } from './selection/inputRmsPeak.js';
export { mosfetOutputCharge } from './losses/outputCharge.js';

// The loop: response, margins, what shapes it, steps, tolerance.
export {
  loopAt,
  loopFrequencies,
  loopGain,
  type LoopPoint,
  type LoopReport,
  type NoLoop,
} from './smallsignal/loopResponse.js';
export {
  unwrapped,
  crossingsSentence,
  marginsOf,
  type Margin,
  type Margins,
  type ResponsePoint,
  type GainCrossing,
} from './smallsignal/margins.js';
export { plantResponse } from './smallsignal/plantResponse.js';
export { averagedPlant } from './smallsignal/averaged.js';
export { interpolated } from './smallsignal/interpolated.js';
export { inputImpedances, type InputImpedances, type Nearest } from './smallsignal/inputImpedance.js';
export { predictedStep, type PredictedStep } from './smallsignal/predictedStep.js';
export { closeLoop } from './smallsignal/closedLoop.js';
export { withLoop, judgeLoop, type JudgedLoop } from './corners/loopVerdicts.js';
export type { CornerMargins, CornerLoop } from './corners/loopCorners.js';
export { DEFAULT_CROSSOVER_LIMITS, type CrossoverLimit } from './corners/crossoverLimits.js';
export {
  completeCompensator,
  usesNetwork,
  type Compensator,
  type CompleteCompensator,
} from './controller/compensatorCircuit.js';
export { compensatorResponse } from './controller/compensatorResponse.js';
export { shapeOf, componentsOf, type Components, type Shape } from './controller/shape.js';
export { LOOP_BREAK_WORDS, type LoopBreak } from './controller/controllerOf.js';
export { proposeLoop, type Procedure, type ProposedLoop } from './sizing/compensation.js';
export { preferredComponents } from './sizing/networkParts.js';
export { steppedComponents, type ShapeHandle } from './sizing/stepShape.js';
export { SLOPE_WORDS, slopeByRule, SLOPE_RULES, type SlopeRule } from './sizing/slopeCompensation.js';
export { loopSampler, bandFrequencies, type Sample } from './tolerance/monteCarlo.js';
export { DEFAULT_TOLERANCES, loopSpreads } from './tolerance/loopSpreads.js';
export { product, degreesOf, ratio, magnitude, decibels, type Complex } from './linalg/complex.js';

// How a number came about.
export { workingOf, figureKeys, valueOf, type Working, type WorkingInput } from './working/working.js';
export { boundaryWorking, peakRatioWorking } from './working/surveyWorkings.js';
export { controlForms, plantForms } from './working/plantWorking.js';
export { bootstrapCapacitance, gateResistanceForEdge } from './firstcut/gateForms.js';
export {
  ringingCapacitance,
  ringingFrequency,
  snubberLoss,
  SNUBBER_MULTIPLE,
  ringingInductance,
  snubberResistance,
} from './firstcut/snubberForms.js';
export { applied, type AppliedForm } from './firstcut/closedForm.js';
export { pulseRatio } from './firstcut/pulseRatio.js';

// In and out: netlists, responses as columns of text.
export { spiceNetlist } from './netlist/spiceNetlist.js';
export { closedLoopNetlist } from './netlist/closedLoopNetlist.js';
export {
  readResponse,
  type ResponseReading,
  type PhaseConvention,
  type ReadResponse,
} from './measured/readResponse.js';
export type { ResponseColumns } from './measured/responseColumns.js';
export { responseCsv, loopCsv } from './measured/responseCsv.js';

// What crosses the HTTP API.
export * from './api/schemas.js';
