import {
  completeStage,
  efficiencyCurve,
  FINE_GRID,
  evaluateStage,
  inputRmsPeak,
  judgeLoop,
  ledgerOf,
  loadsOf,
  loopLedger,
  mapRows,
  nominalInput,
  type EfficiencyCurve,
  type JudgedLoop,
  type LedgerLine,
  type MapRow,
  type OperatingMode,
  type Stage,
} from '@yundro/core';
import { transientSurvey } from './transientSurvey';

/** Loads a curve is drawn through. */
const CURVE_LOADS = 24;
const MODES = ['forced-pwm', 'pulse-skipping', 'ultrasonic', 'critical-conduction'] as const;

/** Efficiency against load at every input corner, and in every mode. */
export interface EfficiencyCurves {
  readonly byInput: readonly EfficiencyCurve[];
  readonly byMode: readonly EfficiencyCurve[];
}

type Rare = (typeof import('./rareSurvey'))['rareSurvey'];
const rare = async (): Promise<Rare> => (await import('./rareSurvey')).rareSurvey;

type Loops = (typeof import('./loopSurvey'))['loopSurvey'];
const loops = async (): Promise<Loops> => (await import('./loopSurvey')).loopSurvey;

type Tools = (typeof import('./loopTools'))['loopTools'];
const tools = async (): Promise<Tools> => (await import('./loopTools')).loopTools;
type Designs = (typeof import('./designSurvey'))['designSurvey'];
const designs = async (): Promise<Designs> => (await import('./designSurvey')).designSurvey;

type Phases = (typeof import('./phaseSurvey'))['phaseSurvey'];
const phases = async (): Promise<Phases> => (await import('./phaseSurvey')).phaseSurvey;

type Benches = (typeof import('./benchSurvey'))['benchSurvey'];
const benches = async (): Promise<Benches> => (await import('./benchSurvey')).benchSurvey;

type Boards = (typeof import('./boardSurvey'))['boardSurvey'];
const boards = async (): Promise<Boards> => (await import('./boardSurvey')).boardSurvey;

type Windings = (typeof import('./windingSurvey'))['windingSurvey'];
const windings = async (): Promise<Windings> => (await import('./windingSurvey')).windingSurvey;

type Systems = (typeof import('./systemSurvey'))['systemSurvey'];
const systems = async (): Promise<Systems> => (await import('./systemSurvey')).systemSurvey;

/** Questions that take longer than an edit may wait; undefined where the stage still lacks a part. */
export const survey = {
  /** The highest input capacitor RMS current over the whole input range at full load. */
  inputRmsPeak(stage: Stage): ReturnType<typeof inputRmsPeak> {
    const complete = completeStage(stage);
    return complete.ok ? inputRmsPeak(complete.value) : undefined;
  },
  /** The ledger in full: drivers of every margin, parts at the ends of their spread. */
  ledger(stage: Stage): readonly LedgerLine[] | undefined {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok) return undefined;
    return [...ledgerOf(evaluated.value), ...loopLedger(evaluated.value, judgeLoop(evaluated.value))];
  },
  /** The loop at every corner, and the verdicts on it. */
  judgeLoop(stage: Stage): JudgedLoop | undefined {
    const evaluated = evaluateStage(stage);
    return evaluated.ok ? judgeLoop(evaluated.value) : undefined;
  },
  ...transientSurvey,
  /** Efficiency against load: at every input corner in the mode of the stage, and at the nominal input in every mode. */
  efficiencyCurves(stage: Stage): EfficiencyCurves | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const loads = loadsOf(complete.value, CURVE_LOADS);
    const { min, max } = stage.targets.inputVoltage;
    const nominal = nominalInput(stage);
    const inputs = [...new Set([min, nominal, max])];
    const curve = (mode: OperatingMode, inputVoltage: number): EfficiencyCurve =>
      efficiencyCurve(complete.value, mode, inputVoltage, loads);
    const byInput = inputs.map((inputVoltage) => curve(stage.operatingMode, inputVoltage));
    const byMode = MODES.map(
      (mode) => byInput.find((one) => one.mode === mode && one.inputVoltage === nominal) ?? curve(mode, nominal),
    );
    return { byInput, byMode };
  },
  /** Every `of`-th row of the fine efficiency maps from the `part`-th on, told of as they come. */
  mapRows(
    stage: Stage,
    modes: readonly OperatingMode[],
    part: number,
    of: number,
    tell: (row: MapRow) => void,
  ): readonly MapRow[] {
    const complete = completeStage(stage);
    if (!complete.ok) return [];
    const rows: MapRow[] = [];
    for (const row of mapRows(complete.value, modes, FINE_GRID, part, of)) {
      rows.push(row);
      tell(row);
    }
    return rows;
  },
  /** Questions of one view each: their part of the engine is fetched when one of them is first asked. */
  conversionRatio: async (...asked: Parameters<Rare['conversionRatio']>) => (await rare()).conversionRatio(...asked),
  conductionMap: async (...asked: Parameters<Rare['conductionMap']>) => (await rare()).conductionMap(...asked),
  frequencyStudy: async (...asked: Parameters<Rare['frequencyStudy']>) => (await rare()).frequencyStudy(...asked),
  rectifiers: async (...asked: Parameters<Rare['rectifiers']>) => (await rare()).rectifiers(...asked),
  advice: async (...asked: Parameters<Rare['advice']>) => (await rare()).advice(...asked),
  nextSteps: async (...asked: Parameters<Loops['nextSteps']>) => (await loops()).nextSteps(...asked),
  loopAt: async (...asked: Parameters<Loops['loopAt']>) => (await loops()).loopAt(...asked),
  loadSteps: async (...asked: Parameters<Loops['loadSteps']>) => (await loops()).loadSteps(...asked),
  inputImpedances: async (...asked: Parameters<Loops['inputImpedances']>) => (await loops()).inputImpedances(...asked),
  slopes: async (...asked: Parameters<Loops['slopes']>) => (await loops()).slopes(...asked),
  sampleLoop: async (...asked: Parameters<Loops['sampleLoop']>) => (await loops()).sampleLoop(...asked),
  loopGains: async (...asked: Parameters<Loops['loopGains']>) => (await loops()).loopGains(...asked),
  plants: async (...asked: Parameters<Loops['plants']>) => (await loops()).plants(...asked),
  proposeLoop: async (...asked: Parameters<Tools['proposeLoop']>) => (await tools()).proposeLoop(...asked),
  readRecord: async (...asked: Parameters<Tools['readRecord']>) => (await tools()).readRecord(...asked),
  waveformsCsv: async (...asked: Parameters<Tools['waveformsCsv']>) => (await tools()).waveformsCsv(...asked),
  designed: async (...asked: Parameters<Designs['designed']>) => (await designs()).designed(...asked),
  system: async (...asked: Parameters<Systems['system']>) => (await systems()).system(...asked),
  meanDrawn: async (...asked: Parameters<Systems['meanDrawn']>) => (await systems()).meanDrawn(...asked),
  interplay: async (...asked: Parameters<Systems['interplay']>) => (await systems()).interplay(...asked),
  singleStages: async (...asked: Parameters<Systems['singleStages']>) => (await systems()).singleStages(...asked),
  phaseCounts: async (...asked: Parameters<Phases['phaseCounts']>) => (await phases()).phaseCounts(...asked),
  couplingStudy: async (...asked: Parameters<Phases['couplingStudy']>) => (await phases()).couplingStudy(...asked),
  couplingSweep: async (...asked: Parameters<Phases['couplingSweep']>) => (await phases()).couplingSweep(...asked),
  sharing: async (...asked: Parameters<Phases['sharing']>) => (await phases()).sharing(...asked),
  phaseChanges: async (...asked: Parameters<Phases['phaseChanges']>) => (await phases()).phaseChanges(...asked),
  critical: async (...asked: Parameters<Phases['critical']>) => (await phases()).critical(...asked),
  shedding: async (...asked: Parameters<Phases['shedding']>) => (await phases()).shedding(...asked),
  board: async (...asked: Parameters<Boards['board']>) => (await boards()).board(...asked),
  floorPlan: async (...asked: Parameters<Boards['floorPlan']>) => (await boards()).floorPlan(...asked),
  conductedNoise: async (...asked: Parameters<Boards['conductedNoise']>) => (await boards()).conductedNoise(...asked),
  noiseFilter: async (...asked: Parameters<Boards['noiseFilter']>) => (await boards()).noiseFilter(...asked),
  edgeNetlist: async (...asked: Parameters<Boards['edgeNetlist']>) => (await boards()).edgeNetlist(...asked),
  careSheet: async (...asked: Parameters<Boards['careSheet']>) => (await boards()).careSheet(...asked),
  chokeRecord: async (...asked: Parameters<Windings['chokeRecord']>) => (await windings()).chokeRecord(...asked),
  chokeFit: async (...asked: Parameters<Windings['chokeFit']>) => (await windings()).chokeFit(...asked),
  chokeSearch: async (...asked: Parameters<Windings['chokeSearch']>) => (await windings()).chokeSearch(...asked),
  chokeWorked: async (...asked: Parameters<Windings['chokeWorked']>) => (await windings()).chokeWorked(...asked),
  chokeMaterials: async (...asked: Parameters<Windings['chokeMaterials']>) =>
    (await windings()).chokeMaterials(...asked),
  chokeSwing: async (...asked: Parameters<Windings['chokeSwing']>) => (await windings()).chokeSwing(...asked),
  testPlan: async (...asked: Parameters<Benches['testPlan']>) => (await benches()).testPlan(...asked),
  expectedNodes: async (...asked: Parameters<Benches['expectedNodes']>) => (await benches()).expectedNodes(...asked),
  faultPicture: async (...asked: Parameters<Benches['faultPicture']>) => (await benches()).faultPicture(...asked),
  faultAtlas: async (...asked: Parameters<Benches['faultAtlas']>) => (await benches()).faultAtlas(...asked),
  hiddenBoard: async (...asked: Parameters<Benches['hiddenBoard']>) => (await benches()).hiddenBoard(...asked),
  traceAt: async (...asked: Parameters<Benches['traceAt']>) => (await benches()).traceAt(...asked),
  againstPrediction: async (...asked: Parameters<Benches['againstPrediction']>) =>
    (await benches()).againstPrediction(...asked),
  predictedTrace: async (...asked: Parameters<Benches['predictedTrace']>) => (await benches()).predictedTrace(...asked),
  injectedLoop: async (...asked: Parameters<Tools['injectedLoop']>) => (await tools()).injectedLoop(...asked),
};

export type Survey = typeof survey;
