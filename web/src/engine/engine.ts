import {
  bankStresses,
  COARSE_GRID,
  cornerMargins,
  currentOf,
  evaluateStage,
  gateChecks,
  inputCapacitorNeeds,
  inputFilterCheck,
  mapRows,
  mapsOf,
  nodeVoltage,
  nominalInput,
  operatingPointIn,
  outputCapacitorNeeds,
  points,
  ROOM_TEMPERATURE,
  schematicOf,
  selectCapacitors,
  selectControllers,
  filledFromClass,
  selectInductors,
  selectSwitches,
  sizeStage,
  stageSignals,
  voltageOf,
  waveformMeasures,
  type BankStress,
  type CapacitorCandidate,
  type Caution,
  type CapacitorNeeds,
  type Choice,
  type ControllerCandidate,
  type EfficiencyMap,
  type EvaluatedStage,
  type Evaluation,
  type GateCheck,
  type HotLoop,
  type FilledStage,
  type InductorCandidate,
  type Inventory,
  type InductorMargins,
  type OperatingMode,
  type InputFilterCheck,
  type LeastMargin,
  type OperatingPoint,
  type PartOf,
  type Points,
  type Problem,
  type ProfilePoint,
  type Schematic,
  type SolvedPoint,
  type Stage,
  type SwitchCandidate,
  type SwitchMargins,
  type SwitchPlace,
  type Unit,
  type WaveformMeasures,
  type Working,
} from '@yundro/core';

/** A waveform of one corner over one period, with what is read off it. */
export interface Trace {
  readonly key: string;
  readonly words: string;
  readonly unit: Unit;
  readonly points: Points;
  readonly measures: WaveformMeasures;
}

/** The waveforms asked for at a corner, and all that can be asked for. */
export interface Waveforms {
  /** s */
  readonly period: number;
  readonly traces: readonly Trace[];
  readonly known: readonly { readonly key: string; readonly words: string }[];
}

/** The drawing of the stage at a corner with what flows in it over one period. */
export interface Drawn {
  /** s */
  readonly period: number;
  readonly phases: number;
  readonly schematic: Schematic;
  /** Stretches between switching instants, s, and what conducts in each. */
  readonly stretches: readonly { readonly start: number; readonly conducting: readonly string[] }[];
  /** By element: current from its `a` to its `b`, A, and voltage across it, V. */
  readonly currents: Readonly<Record<string, Points>>;
  readonly voltages: Readonly<Record<string, Points>>;
  /** By node, V. */
  readonly nodes: Readonly<Record<string, Points>>;
}

/** One corner as the screen needs it. */
export interface CornerView {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  readonly point: OperatingPoint | undefined;
  readonly reason: string | undefined;
  /** What the losses leave out, as the records do not state it. */
  readonly leftOut: readonly string[];
  /** What of the steady state is nearest to failing here. */
  readonly least: LeastMargin | undefined;
}

/** What the engine makes of a stage. */
export interface Worked {
  /** Names this work in later questions about it. */
  readonly work: number;
  /** The stage as worked: with its free values chosen anew when that was asked for. */
  readonly stage: Stage;
  readonly evaluation: Evaluation | undefined;
  readonly problems: readonly Problem[];
  readonly choices: readonly Choice[];
  readonly corners: readonly CornerView[];
}

/** Hours at shares of the full load. */
export type LoadProfile = readonly { readonly share: number; readonly hours: number }[];

export type CapacitorSide = 'outputCapacitors' | 'inputCapacitors';

/** The needs of one side and the parts of the library that could meet them. */
export interface CapacitorChoice {
  readonly needs: CapacitorNeeds;
  readonly candidates: readonly CapacitorCandidate[];
  readonly stresses: readonly BankStress[];
  /** On the input side, where the stage has a damped filter. */
  readonly filter: InputFilterCheck | undefined;
}

/** Stages worked, by the numbers the page gave them: the last few, and the designs held to compare with. */
const works = new Map<number, EvaluatedStage>();
const KEPT = 2;
let held: readonly number[] = [];

function keep(work: number, evaluated: EvaluatedStage): void {
  works.set(work, evaluated);
  const others = [...works.keys()].filter((one) => !held.includes(one));
  for (const old of others.slice(0, Math.max(0, others.length - KEPT))) works.delete(old);
}

/** The solved point of a corner of a stage worked. */
function solvedAt(work: number, corner: number): SolvedPoint | undefined {
  const result = works.get(work)?.corners[corner]?.result;
  return result?.kind === 'solved' ? result : undefined;
}

/** What is asked of the engine. A question about a stage names its work; one that is no longer kept has no answer. */
export const engine = {
  /** Evaluate a stage at every corner, choosing anew what is not pinned when `rechoose` is set. */
  work(work: number, stage: Stage, rechoose: boolean): Worked {
    const result = rechoose ? sizeStage(stage, { keepPresent: false }) : evaluateStage(stage);
    if (!result.ok) return { work, stage, evaluation: undefined, problems: result.problems, choices: [], corners: [] };
    keep(work, result.value);
    const least = cornerMargins(result.value);
    return {
      work,
      stage: result.value.evaluation.stage,
      evaluation: result.value.evaluation,
      problems: [],
      choices: 'choices' in result.value ? (result.value.choices as readonly Choice[]) : [],
      corners: result.value.corners.map(({ corner, result: found }, k) => ({
        inputVoltage: corner.inputVoltage,
        outputCurrent: corner.outputCurrent,
        point: found.kind === 'solved' ? found.point : undefined,
        reason: found.kind === 'solved' ? undefined : found.reason,
        leftOut: found.kind === 'solved' ? found.heat.unknown : [],
        least: least[k],
      })),
    };
  },
  /** Keep stages worked to compare later ones with them; those that are not named are let go. */
  hold(named: readonly number[]): void {
    held = named;
  },
  /** Waveforms of a corner, by their keys; those the stage does not have are left out. */
  waveforms(work: number, corner: number, keys: readonly string[]): Waveforms | undefined {
    const solved = solvedAt(work, corner);
    if (!solved) return undefined;
    const { solution, powerStage } = solved;
    const signals = stageSignals(powerStage, solution);
    return {
      period: solution.period,
      traces: keys.flatMap((key): readonly Trace[] => {
        const found = signals.find((signal) => signal.key === key);
        if (!found) return [];
        const { words, unit, signal } = found;
        const measures = waveformMeasures(solution, signal);
        return [{ key, words, unit, points: points(solution, signal), measures }];
      }),
      known: signals.map(({ key, words }) => ({ key, words })),
    };
  },
  /** The drawing of the stage at a corner, of one of its phases. */
  schematic(work: number, corner: number, phase: number): Drawn | undefined {
    const solved = solvedAt(work, corner);
    if (!solved) return undefined;
    const { solution, powerStage } = solved;
    const phases = powerStage.elements.byPhase.length;
    const schematic = schematicOf(powerStage, Math.min(phase, phases - 1));
    const names = powerStage.circuit.elements.map(({ name }) => name);
    const drawn = (signalOf: typeof currentOf, of: readonly string[]): Record<string, Points> =>
      Object.fromEntries(of.map((name) => [name, points(solution, signalOf(name))]));
    return {
      period: solution.period,
      phases,
      schematic,
      stretches: solution.segments.flatMap(({ start, duration, equations }) =>
        duration > 0 ? [{ start, conducting: equations.conducting }] : [],
      ),
      currents: drawn(currentOf, names),
      voltages: drawn(voltageOf, names),
      nodes: drawn(
        nodeVoltage,
        schematic.nodes.map(({ name }) => name),
      ),
    };
  },
  /** A stage with what its parts do not state of their losses filled from their class. */
  filledFromClass(stage: Stage, records: Pick<Inventory, 'inductor' | 'diode'>): FilledStage {
    return filledFromClass(stage, records);
  },
  /** Library inductors against the stage. */
  inductorChoice(
    work: number,
    parts: readonly PartOf<'inductor'>[],
    margins: InductorMargins,
  ): readonly InductorCandidate[] | undefined {
    const worked = works.get(work);
    return worked && selectInductors(worked, parts, margins);
  },
  /** What the capacitors of one side of the stage must do, and library parts that could. */
  capacitorChoice(
    work: number,
    side: CapacitorSide,
    parts: readonly PartOf<'capacitor'>[],
  ): CapacitorChoice | undefined {
    const worked = works.get(work);
    if (!worked) return undefined;
    const needs = side === 'outputCapacitors' ? outputCapacitorNeeds(worked) : inputCapacitorNeeds(worked);
    const ambient = worked.complete.stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
    const filter = side === 'inputCapacitors' ? inputFilterCheck(worked) : undefined;
    const candidates = selectCapacitors(needs, parts, ambient);
    return { needs, candidates, stresses: bankStresses(worked, side), filter };
  },
  /** Library controllers against the stage. */
  controllerChoice(work: number, parts: readonly PartOf<'controller'>[]): readonly ControllerCandidate[] | undefined {
    const worked = works.get(work);
    return worked && selectControllers(worked, parts);
  },
  /** Library MOSFETs for a place of the stage, ranked by loss over hours at shares of the full load. */
  switchChoice(
    work: number,
    place: SwitchPlace,
    parts: readonly PartOf<'mosfet'>[],
    profile: LoadProfile,
    margins: SwitchMargins,
  ): readonly SwitchCandidate[] | undefined {
    const worked = works.get(work);
    if (!worked) return undefined;
    const { complete } = worked;
    const { stage } = complete;
    const inputVoltage = nominalInput(stage);
    const ambient = stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
    const points = profile.flatMap(({ share, hours }): readonly ProfilePoint[] => {
      if (hours <= 0) return [];
      const load = { kind: 'current' as const, current: share * stage.targets.outputCurrent.max };
      const solved = operatingPointIn(stage.operatingMode, complete, { inputVoltage, ambient, load });
      return solved.kind === 'solved' ? [{ solved, hours }] : [];
    });
    return selectSwitches(worked, place, parts, points, margins);
  },
  /** A first, coarse picture of the efficiency of the stage: there at once, as this worker is warm. */
  firstMaps(work: number, modes: readonly OperatingMode[]): readonly EfficiencyMap[] | undefined {
    const worked = works.get(work);
    if (!worked) return undefined;
    const { complete } = worked;
    return mapsOf(complete, modes, COARSE_GRID, [...mapRows(complete, modes, COARSE_GRID)]);
  },
  /** What can hurt someone, or the stage, about it; the loop it takes for that is fetched when it is first asked. */
  async cautions(work: number): Promise<readonly Caution[] | undefined> {
    const worked = works.get(work);
    const { cautionsOf } = await import('./rareEngine');
    return worked && cautionsOf(worked.evaluation.stage, worked);
  },
  /** Gates of the stage that the edges of the other switch may lift, at a corner. */
  gateChecks(work: number, corner: number): readonly GateCheck[] | undefined {
    const worked = works.get(work);
    const solved = solvedAt(work, corner);
    return worked && solved ? gateChecks(worked.complete, solved) : undefined;
  },
  /** The hot loops of the stage at a corner: when each turns over there. */
  async hotLoops(work: number, corner: number): Promise<readonly HotLoop[] | undefined> {
    const solved = solvedAt(work, corner);
    const { hotLoops } = await import('./rareEngine');
    return solved && hotLoops(solved);
  },
  /** The working of a figure at a corner of the stage. */
  async working(work: number, corner: number, key: string): Promise<Working | undefined> {
    const worked = works.get(work);
    const solved = solvedAt(work, corner);
    const { workingOf } = await import('./rareEngine');
    return worked && solved ? workingOf(key, worked.complete, solved) : undefined;
  },
};

export type Engine = typeof engine;
