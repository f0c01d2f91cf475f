/** The core of Yundro, grouped by what a designer does with it. All that is named here is public, and tagged so where it stands. */

// Numbers as engineers write them.
export {
  parseQuantity,
  NOT_WORKED,
  printQuantity,
  sentenceQuantity,
  formatQuantity,
  type PrintedQuantity,
} from './quantity/engineering.js';
export { readComma, type FileCommas, type CommaMeaning } from './quantity/comma.js';
export { targetLine, type TargetLine } from './quantity/targetLine.js';
export { shownPower, UNITS, type Unit } from './quantity/unit.js';
export {
  PREFERRED_SERIES,
  preferredAtMost,
  nextPreferredDown,
  nextPreferredUp,
  preferredAtLeast,
  nearestPreferred,
  type PreferredSeries,
} from './quantity/preferredValues.js';
export { good, refused, type Problem, type Result } from './result.js';

// Stage files: read, write, and what is wrong with one.
export {
  PINNABLE,
  stageSchema,
  stageField,
  STAGE_VERSION,
  STAGE_FORMAT,
  type Pinnable,
  type StageInput,
  type Stage,
} from './stage/schema.js';
export { withValue, valueAt, pathKey, pathText, type StagePath } from './stage/place.js';
export type { FieldMeta } from './stage/field.js';
export { fieldFault, nameOf, type OnScreen } from './stage/fieldFault.js';
export type { CapacitorBank } from './stage/partsSchema.js';
export { STAGE_TEXT_LIMIT, writeStage, stageFromDocument, checked, readStage } from './stage/readStage.js';
export { problemSentence, problemsSentence } from './stage/problemSentence.js';
export { cautionsOf } from './advice/cautions.js';
export { ES1_LIMIT, statedCautions, type Caution } from './advice/statedCautions.js';
export { stageJsonSchema } from './stage/jsonSchema.js';
export { completeStage, SWITCH_WORDS, type CompleteStage } from './stage/completeStage.js';
export { nominalInput } from './stage/nominalInput.js';
export { paralleledMosfet } from './stage/paralleledMosfet.js';

// Topologies, and which of them the targets ask for.
export { TOPOLOGIES, TOPOLOGY_NAMES, topologyOf, type TopologyName } from './topology/topologies.js';
export type { SwitchPlace, Topology } from './topology/topology.js';
export { topologyAdvice, type Advice } from './advice/topologyAdvice.js';
export { compareRectifiers, type RectifiedStage, type RectifierComparison } from './advice/rectifiers.js';

// From targets to a stage.
export { filledFromClass, type Filled, type FilledStage } from './sizing/filledFromClass.js';
export { sizeStage, type SizedStage } from './sizing/size.js';
export { sizeLoop } from './sizing/sizeLoop.js';
export { designStage, type Designed } from './design/designStage.js';
export type { Rival } from './design/rivals.js';
export type { Design } from './design/search.js';
export { kindAt } from './library/placeKinds.js';
export { freed, standsOnRecords } from './design/freed.js';
export { FIGURES_ARE, OBJECTIVES, type Figures, type Objective } from './design/merit.js';
export type { Concession } from './design/nearest.js';
export {
  inventoryOfRows,
  RECORD_KINDS,
  recordCells,
  recordsOf,
  recordsOfKind,
  withRecords,
  type Inventory,
  type InventoryRecord,
} from './library/inventory.js';
export type { Choice } from './sizing/choice.js';
export { dampedInputFilter } from './sizing/inputFilter.js';
export { followingDivider } from './sizing/setDivider.js';
export { dividers, type Divider } from './sizing/divider.js';

// The steady state at an operating point: figures, waveforms, the drawing.
export {
  operatingPointSchema,
  operatingPoint,
  type OperatingPoint,
  type SolvedPoint,
} from './steady/operatingPoint.js';
export type { UnsolvedPoint } from './steady/solveCircuit.js';
export { stageSignals, waveformMeasures, type StageSignal, type WaveformMeasures } from './steady/stageSignals.js';
export { points, type Points } from './orbit/measures.js';
export { currentOf, nodeVoltage, voltageOf } from './orbit/signal.js';
export type { OperatingCondition } from './powerstage/powerStage.js';
export { elementWords, nodeWords } from './powerstage/elementWords.js';
export type { Element } from './circuit/elements.js';
export { formDrawing } from './schematic/formDrawing.js';
export { schematicOf, type Carried, type Schematic, type PlacedElement } from './schematic/schematic.js';
export { operatingPointIn, PULSE_SHARE, type OperatingMode } from './modes/operatingMode.js';
export { bankModel } from './parts/capacitorBank.js';
export { inductanceCurveOf } from './parts/inductanceCurve.js';
export { ROOM_TEMPERATURE } from './thermal/room.js';

// Every corner, and a verdict for every target.
export type { Corner } from './corners/corners.js';
export {
  cornerMargins,
  evaluationSchema,
  evaluateStage,
  leftOutSentences,
  type EvaluatedStage,
  type CornerResult,
  type Evaluation,
} from './corners/evaluate.js';
export { ledgerOf } from './corners/ledger.js';
export type { LedgerLine } from './corners/marginProbe.js';
export { loopLedger } from './corners/loopLedger.js';
export { changeWords, wholeLedger, withRemedies } from './corners/remedies.js';
export { transientLedger } from './corners/transientLedger.js';
export type { LeastMargin } from './corners/leastMargin.js';
export { nextSteps, type MarginChange, type NextStep } from './corners/nextSteps.js';
export {
  marginText,
  verdictSummary,
  verdictWord,
  verdictSchema,
  type VerdictWord,
  type Verdict,
} from './corners/verdict.js';

// Over a range: conversion ratio, conduction, frequency, efficiency.
export { conversionRatio, type ConversionRatio } from './survey/conversionRatio.js';
export { conductionMap, type ConductionMap } from './survey/conductionMap.js';
export { frequencyStudy, type FrequencyStudy, type FrequencyPoint } from './survey/frequencyStudy.js';
export { loadsOf, efficiencyCurve, type EfficiencyCurve, type EfficiencyPoint } from './survey/efficiency.js';
export { COARSE_GRID, mapsOf, FINE_GRID, mapRows, type MapRow, type EfficiencyMap } from './survey/efficiencyMap.js';
export { LOSS_KINDS, lossesByKind, type LossKind } from './losses/lossKinds.js';

// Parts from a library.
export {
  LIBRARY_SCHEMAS,
  partColumns,
  PART_KINDS,
  type PartOf,
  type PartColumn,
  type PartKind,
} from './library/libraryPart.js';
export {
  partCells,
  readPartRows,
  suggestedMapping,
  commasOfRows,
  partCellText,
  type ColumnMapping,
  type RefusedRow,
  type ReadParts,
} from './library/readPartRows.js';
export { typicalMosfet } from './library/typicalMosfet.js';
export { genericParts } from './library/genericParts.js';
export {
  selectInductors,
  INDUCTOR_MARGINS,
  type InductorCandidate,
  type InductorMargins,
} from './selection/inductors.js';
export { bankOf, selectCapacitors, type CapacitorCandidate } from './selection/capacitors.js';
export { bankStresses, type BankStress } from './selection/bankStress.js';
export { gateChecks, HOT_SHARE, type GateCheck } from './selection/gateChecks.js';
export {
  SWITCH_MARGINS,
  onResistanceAt,
  selectSwitches,
  type ProfilePoint,
  type SwitchMargins,
  type SwitchCandidate,
} from './selection/switches.js';
export { outputCapacitorNeeds, inputCapacitorNeeds, type CapacitorNeeds } from './selection/capacitorNeeds.js';
export { inputFilterCheck, type InputFilterCheck } from './selection/inputFilterCheck.js';
export { inputRmsPeak } from './selection/inputRmsPeak.js';
export { mosfetOutputCharge } from './losses/outputCharge.js';

// The loop: response, margins, what shapes it, steps, tolerance.
export {
  loopAt,
  loopGain,
  loopFrequencies,
  type LoopReport,
  type NoLoop,
  type LoopPoint,
} from './smallsignal/loopResponse.js';
export {
  crossingsSentence,
  marginsOf,
  unwrapped,
  type Margins,
  type GainCrossing,
  type Margin,
  type ResponsePoint,
} from './smallsignal/margins.js';
export { plantResponse } from './smallsignal/plantResponse.js';
export { averagedPlant } from './smallsignal/averaged.js';
export { interpolated } from './smallsignal/interpolated.js';
export { inputImpedances, type InputImpedances, type Nearest } from './smallsignal/inputImpedance.js';
export { predictedStep, type PredictedStep } from './smallsignal/predictedStep.js';
export { closeLoop } from './smallsignal/closedLoop.js';
export { judgeLoop, loopMargins, unjudgedLoop, withLoop, type JudgedLoop } from './corners/loopVerdicts.js';
export type { CornerLoop, CornerMargins } from './corners/loopCorners.js';
export { DEFAULT_CROSSOVER_LIMITS, type CrossoverLimit } from './corners/crossoverLimits.js';
export {
  completeCompensator,
  usesNetwork,
  type Compensator,
  type CompleteCompensator,
} from './controller/compensatorCircuit.js';
export { compensatorResponse } from './controller/compensatorResponse.js';
export { componentsOf, shapeOf, type Components, type Shape } from './controller/shape.js';
export { LOOP_BREAK_WORDS, type LoopBreak } from './controller/controllerOf.js';
export { USUAL_TOLERANCES } from './controller/outputTolerance.js';
export { proposeLoop, type ProposedLoop, type Procedure } from './sizing/compensation.js';
export { preferredComponents } from './sizing/networkParts.js';
export { steppedComponents, type ShapeHandle } from './sizing/stepShape.js';
export { SLOPE_RULES, slopeByRule, SLOPE_WORDS, type SlopeRule } from './sizing/slopeCompensation.js';
export { bandFrequencies, loopSampler, type Missed, type Sample } from './tolerance/monteCarlo.js';
export { DEFAULT_TOLERANCES, loopSpreads } from './tolerance/loopSpreads.js';
export { ratio, decibels, product, degreesOf, magnitude, type Complex } from './linalg/complex.js';

// How a number came about.
export { workingOf, valueOf, figureKeys, type WorkingInput, type Working } from './working/working.js';
export { boundaryWorking, peakRatioWorking } from './working/surveyWorkings.js';
export { controlForms, plantForms } from './working/plantWorking.js';
export { bootstrapCapacitance, gateResistanceForEdge } from './firstcut/gateForms.js';
export {
  snubberResistance,
  ringingInductance,
  ringingCapacitance,
  SNUBBER_MULTIPLE,
  snubberLoss,
  ringingFrequency,
} from './firstcut/snubberForms.js';
export { applied, type AppliedForm } from './firstcut/closedForm.js';
export { buckInputCapacitorRms, summedRipple } from './firstcut/buckForms.js';
export { modeInductances, steadyInductance, type CoupledWindings } from './firstcut/coupledRipple.js';
export { pulseRatio } from './firstcut/pulseRatio.js';

// In and out: netlists, responses as columns of text.
export { spiceNetlist } from './netlist/spiceNetlist.js';
export { edgeNetlist } from './netlist/edgeNetlist.js';
export { closedLoopNetlist, type NetlistStep } from './netlist/closedLoopNetlist.js';
export {
  readResponse,
  type PhaseConvention,
  type ReadResponse,
  type ResponseReading,
} from './measured/readResponse.js';
export { readWaveform, type ReadWaveform } from './measured/readWaveform.js';
export type { ResponseColumns } from './measured/responseColumns.js';
export { responseCsv, loopCsv } from './measured/responseCsv.js';

// What crosses the HTTP API.
export * from './api/schemas.js';
export {
  lineStep,
  loadStep,
  oneWayStart,
  shortCircuit,
  startUp,
  type Happening,
  type Scenario,
} from './transient/scenario.js';
export { evenly } from './transient/evenly.js';
export { simulate, type SimulatedRun, type SimulationOptions, type SimulationResult } from './transient/simulate.js';
export { injectedSweep, injectLoop, type InjectedPoint } from './transient/injection.js';
export type { FailedRun } from './transient/failedRun.js';
export { worstRate } from './smallsignal/worstRate.js';
export { alternatingLoad, SEQUENCE_LIMITS, sequenceScenario, type SequenceStep } from './transient/sequence.js';
export { otherClamps, type OtherClamps } from './transient/otherClamps.js';
export { reducedSignal, reducedWaveforms } from './transient/reducedWaveforms.js';
export { waveformsCsv } from './transient/waveformsCsv.js';
export type { EnergyBalance } from './transient/energy.js';
export type { TransientMeasures } from './transient/measures.js';
export type { Occurrence, Waveforms } from './transient/recorder.js';
export {
  differsFromLinear,
  judgeTransient,
  stepMargins,
  stepScenario,
  transientSettles,
  type JudgedTransient,
  type SimulatedStep,
} from './corners/transientVerdicts.js';
export { FEATURES, type Feature } from './stage/features.js';
export { withInductor } from './library/withInductor.js';
export { withController } from './library/withController.js';
export { controllersSettle, selectControllers, type ControllerCandidate } from './selection/controllers.js';

// How many phases, coupled or not, and how many of them at work.
export {
  byInterest,
  phaseCounts,
  recommendedCount,
  MOST_STUDIED,
  type PhaseCount,
  type PhaseStep,
  type Recommended,
} from './design/phaseStudy.js';
export {
  couplingStudy,
  couplingSweep,
  UNBALANCE,
  type Alike,
  type CouplingComparison,
  type CouplingPoint,
  type CouplingSweep,
  type CouplingStudy,
  type WindingFigures,
} from './survey/couplingStudy.js';
export { couplingLookedAt, USUAL_COUPLING, windingsOf, type Coupling } from './stage/coupling.js';
export {
  HYSTERESIS,
  shedding,
  type LoadShare,
  type Shedding,
  type ShedPoint,
  type Threshold,
} from './survey/shedding.js';
export { phaseChange, type PhaseChange } from './survey/phaseChange.js';
export { criticalStudy, type CriticalInput, type CriticalStudy } from './survey/criticalStudy.js';
export {
  sharingStudy,
  unequalPhases,
  NO_ERROR,
  type PhaseError,
  type SharingSample,
  type SharingStudy,
  type UnequalPhases,
} from './tolerance/currentSharing.js';

// Stages that feed stages.
export { meetingImpedances, type Meeting, type NoMeeting } from './system/meetingImpedances.js';
export { startUpOrder, type Start } from './system/startUpOrder.js';
export { singleStages, type SingleStage } from './system/singleStage.js';
export { feedingTree, type Fed, type FeedingTree } from './system/feedingTree.js';
export {
  meanDrawn,
  powerFlow,
  waysToLoads,
  type Alternative,
  type FlowThrough,
  type PowerFlow,
  type SystemCase,
} from './system/powerFlow.js';

// The bench: instruments, the plan, what to expect, the log, what it says of the parts, and what goes wrong.
export * from './api/benchSchemas.js';
export { standardUncertainty, type Accuracy } from './instruments/accuracy.js';
export { instrumentsSchema, USUAL_INSTRUMENTS, type Instruments } from './instruments/instruments.js';
export {
  blockLength,
  bytesOf,
  definiteBlock,
  ERRORS,
  floatsOf,
  isHeader,
  messageUnits,
  type MessageUnit,
} from './instruments/language.js';
export { CHANNELS, CHANNEL_NAMES, readingSchema, type Channel, type Reading } from './readings/reading.js';
export { accuracyOf, derivedReading, regulationOf, type DerivedReading, type Regulation } from './readings/derived.js';
export { readingFlags, type ReadingFlag } from './readings/flags.js';
export { readReadings, type ReadReadings } from './readings/readReadings.js';
export { readingsCsv } from './readings/readingsCsv.js';
export { asBuilt } from './board/asBuilt.js';
export {
  BenchBoard,
  InstrumentErrors,
  type BoardState,
  type LoadSetting,
  type SupplySetting,
} from './board/benchBoard.js';
export { boardInput, PREDICTED, ReadingPredictor, type PredictedChannel } from './board/predictReading.js';
export { boardRun, type BenchCondition, type BoardRun } from './board/boardRun.js';
export { boardFeatures, featuresOf, type BoardFeatures, type NodeFeatures } from './faults/features.js';
export { FAULTS, type Fault } from './faults/faults.js';
export {
  diagnose,
  faultAtlas,
  HEALTHY,
  scalesOf,
  type Diagnosis,
  type FaultAtlas,
  type SeenBoard,
} from './faults/rank.js';
export { fitReadings, withFitted, type FittedParameter, type FittedReadings } from './estimation/fitReadings.js';
export { PARAMETERS, type FitParameter, type ParameterKey } from './estimation/parameters.js';
export { testPlan, type PlanStep } from './bringup/testPlan.js';
export { reachOf, type PlannedPoint, type Reach } from './bringup/reach.js';
export { expectedNodes, type ExpectedNode } from './bringup/expectedNodes.js';
export { switchNodeEdge, type SeenEdge } from './bringup/probeLead.js';
export { coverageFactor } from './uncertainty/studentT.js';
export { propagate, type Estimate, type Propagated } from './uncertainty/propagate.js';
export { random } from './tolerance/random.js';
export { predictedBand, type Banded, type PredictedLine } from './estimation/predictedBand.js';

// Chokes that are wound: cores, conductors and gaps; designs by search; swinging chokes, pairs, and chokes that were measured.
export { CORE_MATERIALS, CORE_SHAPES, SHAPE_WORDS, type CoreShape, type MaterialKey } from './library/coreKinds.js';
export { resistivityAt } from './magnetics/copper.js';
export { MATERIALS, type CoreMaterial } from './magnetics/materials.js';
export { FRINGING_WORDS, type Fringing } from './magnetics/fringing.js';
export { conductorWords, gaugeDiameter, GAUGES, METRIC_DIAMETERS, type Conductor } from './magnetics/wires.js';
export { woundCore, type WoundCore } from './magnetics/woundCore.js';
export { chokeTable, gapFor, gapWords, type WoundChoke } from './magnetics/woundChoke.js';
export { chokeOf, chokeSpecSchema, specOf, type ChokeSpec } from './magnetics/chokeSpec.js';
export { chokeDemand } from './magnetics/chokeDemand.js';
export { workChoke, type ChokeAtCorner, type ChokeDemand, type WorkedChoke } from './magnetics/figures.js';
export { CHOKE_RULES, chokeCautions, chokeFaults, chokePrice, chokeVolume } from './magnetics/judgeChoke.js';
export { searchChokes, type ChokeDesign, type ChokeSearch } from './magnetics/searchChokes.js';
export { materialComparison, type MaterialChoice, type MaterialComparison } from './magnetics/materialChoice.js';
export {
  swingingChoke,
  swingStudy,
  type SwingAtLoad,
  type SwingStep,
  type SwingStudy,
} from './magnetics/swingStudy.js';
export { ownRing, type OwnRing } from './magnetics/ownRing.js';
export { pairOnCore, type PairGeometry, type PairOnCore } from './magnetics/pairOnCore.js';
export { chokeWorking } from './magnetics/chokeWorking.js';
export { chokePart } from './magnetics/chokePart.js';
export { careSheet } from './advice/careSheet.js';
export type { Sheet } from './quantity/sheet.js';
export { windingSheet } from './magnetics/windingSheet.js';
export { hotLoops, loopKey, type HotLoop, type LoopHop } from './layout/hotLoops.js';
export { ringingWith, ringWorking, worstLoops, type WorstLoop } from './layout/worstLoops.js';
export { layoutChecklist, viaBarrel, viaCurrent, BOARD, type ChecklistLine } from './layout/checklist.js';
export {
  boardNotesSchema,
  boardRowSchema,
  keptBoardSchema,
  mergedBoard,
  saveBoardSchema,
  type BoardRow,
  type KeptBoard,
  type BoardNotes,
  type Check,
  type Copper,
  type LoopGeometry,
  type NoiseNotes,
  type PlanNotes,
} from './api/boardNotes.js';
export {
  insulatorResistance,
  INSULATORS,
  sharedSink,
  tabGround,
  type Insulator,
  type SharedSink,
  type SunkTab,
  type Tab,
  type TabGround,
} from './layout/sharedHeatsink.js';
export { netsOf, type Net } from './layout/nets.js';
export {
  CONDUCTOR_K,
  conductorCurrent,
  conductorWidth,
  foilResistance,
  openLoopInductance,
  planeLoopInductance,
} from './layout/conductorForms.js';
export { planGround, type PlanGround, type PlanLoop, type PlanNet } from './floorplan/planGround.js';
export { placementOrder, proposePlan, type PlacementStep } from './floorplan/proposal.js';
export {
  judgePlan,
  laidLoops,
  type LaidLoop,
  type JudgedPlan,
  type JudgedRule,
  type NodeCopper,
  type RuleState,
} from './floorplan/planRules.js';
export { airLines } from './floorplan/airLines.js';
export { wayWorking } from './floorplan/wayWorking.js';
export {
  around,
  outlineBox,
  padBox,
  type Box,
  type Placed,
  type Placement,
  type Point,
} from './floorplan/placement.js';
export type { Outline, Pad } from './floorplan/outline.js';
export { leastSpacing, SPACING_COLUMNS, type SpacingColumn } from './layout/spacing.js';
export { partsCsv, partsList, priceOf, type ChosenAuxiliaries, type PartsLine } from './partslist/partsList.js';
export { fuseRatingAtLeast } from './auxiliary/fuseRatings.js';
export { auxiliaryGround } from './auxiliary/auxiliaryGround.js';
export {
  AUXILIARIES,
  auxiliaryOutcomes,
  type Auxiliary,
  type AuxiliaryGround,
  type AuxiliaryName,
  type AuxiliaryOutcome,
} from './auxiliary/auxiliaries.js';
export {
  conductedNoise,
  ditheredBy,
  excessOver,
  harmonicWorking,
  limitAt,
  NETWORKS,
  TERMINAL,
  readLimit,
  type ConductedNoise,
  type Network,
} from './noise/conductedNoise.js';
export { noiseFilter, type NoiseFilter } from './noise/noiseFilter.js';
export { readRecord, type ReadRecord } from './measured/readRecord.js';
export { fitRamp, type FittedFigure, type FittedRamp } from './estimation/currentRamp.js';
export { fitRing, type FittedRing } from './estimation/ringDown.js';
export { measuredPart } from './estimation/measuredPart.js';
