import { expose } from 'comlink';
import {
  bankStresses,
  COARSE_GRID,
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
  selectInductors,
  selectSwitches,
  sizeStage,
  stageSignals,
  voltageOf,
  waveformMeasures,
  workingOf,
  type BankStress,
  type CapacitorCandidate,
  type CapacitorNeeds,
  type Choice,
  type EfficiencyMap,
  type EvaluatedStage,
  type Evaluation,
  type GateCheck,
  type InductorCandidate,
  type InductorMargins,
  type OperatingMode,
  type InputFilterCheck,
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
}

/** What the engine makes of a stage. */
export interface Worked {
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

let latest: EvaluatedStage | undefined;
/** The design held to compare with. */
let held: EvaluatedStage | undefined;

/** The solved point of a corner of the stage worked last. */
function solvedAt(corner: number, of: EvaluatedStage | undefined = latest): SolvedPoint | undefined {
  const result = of?.corners[corner]?.result;
  return result?.kind === 'solved' ? result : undefined;
}

const engine = {
  /** Evaluate a stage at every corner, choosing anew what is not pinned when `rechoose` is set. */
  work(stage: Stage, rechoose: boolean): Worked {
    const result = rechoose ? sizeStage(stage, { keepPresent: false }) : evaluateStage(stage);
    if (!result.ok) {
      latest = undefined;
      return { stage, evaluation: undefined, problems: result.problems, choices: [], corners: [] };
    }
    latest = result.value;
    return {
      stage: result.value.evaluation.stage,
      evaluation: result.value.evaluation,
      problems: [],
      choices: 'choices' in result.value ? (result.value.choices as readonly Choice[]) : [],
      corners: result.value.corners.map(({ corner, result: found }) => ({
        inputVoltage: corner.inputVoltage,
        outputCurrent: corner.outputCurrent,
        point: found.kind === 'solved' ? found.point : undefined,
        reason: found.kind === 'solved' ? undefined : found.reason,
      })),
    };
  },
  /** Hold the stage worked last to compare later ones with it, or let it go. */
  hold(holding: boolean): void {
    held = holding ? latest : undefined;
  },
  /** Waveforms of a corner of the stage worked last, by their keys; those the stage does not have are left out. */
  waveforms(corner: number, keys: readonly string[], ofHeld = false): Waveforms | undefined {
    const solved = solvedAt(corner, ofHeld ? held : latest);
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
  /** The drawing of the stage worked last at a corner, of one of its phases. */
  schematic(corner: number, phase: number): Drawn | undefined {
    const solved = solvedAt(corner);
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
  /** Library inductors against the stage worked last. */
  inductorChoice(
    parts: readonly PartOf<'inductor'>[],
    margins: InductorMargins,
  ): readonly InductorCandidate[] | undefined {
    return latest && selectInductors(latest, parts, margins);
  },
  /** What the capacitors of one side of the stage worked last must do, and library parts that could. */
  capacitorChoice(side: CapacitorSide, parts: readonly PartOf<'capacitor'>[]): CapacitorChoice | undefined {
    if (!latest) return undefined;
    const needs = side === 'outputCapacitors' ? outputCapacitorNeeds(latest) : inputCapacitorNeeds(latest);
    const ambient = latest.complete.stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
    const filter = side === 'inputCapacitors' ? inputFilterCheck(latest) : undefined;
    const candidates = selectCapacitors(needs, parts, ambient);
    return { needs, candidates, stresses: bankStresses(latest, side), filter };
  },
  /** Library MOSFETs for a place of the stage worked last, ranked by loss over hours at shares of the full load. */
  switchChoice(
    place: SwitchPlace,
    parts: readonly PartOf<'mosfet'>[],
    profile: LoadProfile,
    margins: SwitchMargins,
  ): readonly SwitchCandidate[] | undefined {
    if (!latest) return undefined;
    const { complete } = latest;
    const { stage } = complete;
    const inputVoltage = nominalInput(stage);
    const ambient = stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
    const points = profile.flatMap(({ share, hours }): readonly ProfilePoint[] => {
      if (hours <= 0) return [];
      const load = { kind: 'current' as const, current: share * stage.targets.outputCurrent.max };
      const solved = operatingPointIn(stage.operatingMode, complete, { inputVoltage, ambient, load });
      return solved.kind === 'solved' ? [{ solved, hours }] : [];
    });
    return selectSwitches(latest, place, parts, points, margins);
  },
  /** A first, coarse picture of the efficiency of the stage worked last: there at once, as this worker is warm. */
  firstMaps(modes: readonly OperatingMode[]): readonly EfficiencyMap[] | undefined {
    if (!latest) return undefined;
    const { complete } = latest;
    return mapsOf(complete, modes, COARSE_GRID, [...mapRows(complete, modes, COARSE_GRID)]);
  },
  /** Gates of the stage worked last that the edges of the other switch may lift, at a corner. */
  gateChecks(corner: number): readonly GateCheck[] | undefined {
    const solved = solvedAt(corner);
    return latest && solved ? gateChecks(latest.complete, solved) : undefined;
  },
  /** What the records of the stage worked last leave out of its losses, at a corner. */
  unknownLosses(corner: number): readonly string[] | undefined {
    return solvedAt(corner)?.heat.unknown;
  },
  /** The working of a figure at a corner of the stage worked last. */
  working(corner: number, key: string): Working | undefined {
    const solved = solvedAt(corner);
    return latest && solved ? workingOf(key, latest.complete, solved) : undefined;
  },
};

export type Engine = typeof engine;

expose(engine);
