import {
  auxiliaryGround,
  careSheet,
  completeStage,
  conductedNoise,
  edgeNetlist,
  evaluateStage,
  layoutChecklist,
  loopKey,
  netsOf,
  noiseFilter,
  planGround,
  proposePlan,
  tabGround,
  worstLoops,
  type AuxiliaryGround,
  type ChecklistLine,
  type ConductedNoise,
  type Net,
  type Network,
  type NoiseFilter,
  type Placement,
  type PlanGround,
  type Sheet,
  type Stage,
  type TabGround,
  type WorstLoop,
} from '@yundro/core';

/** What the board of a stage must do. */
export interface BoardNeeds {
  readonly loops: readonly WorstLoop[];
  readonly nets: readonly Net[];
  readonly checklist: readonly ChecklistLine[];
  /** What parts around the controller are chosen by. */
  readonly ground: AuxiliaryGround;
  readonly heat: TabGround;
  /** Corners without an operating point: nothing of them is in it. */
  readonly leftOut: number;
}

/** What a floor plan is made from, and one that is proposed. */
export interface FloorPlan {
  readonly ground: PlanGround;
  readonly proposal: Placement;
}

/** The corner at which noise is looked at. */
export interface NoiseCondition {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
}

const LACKS = 'the stage still lacks a part';

/** Questions of the board; undefined where the stage still lacks a part. */
export const boardSurvey = {
  board(stage: Stage): BoardNeeds | undefined {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok) return undefined;
    const loops = worstLoops(evaluated.value);
    const nets = netsOf(evaluated.value);
    return {
      loops,
      nets,
      checklist: layoutChecklist(evaluated.value, loops, nets),
      ground: auxiliaryGround(evaluated.value),
      heat: tabGround(evaluated.value),
      leftOut: evaluated.value.corners.filter(({ result }) => result.kind !== 'solved').length,
    };
  },
  /** A floor plan of the stage, proposed; undefined where the stage lacks a part, or no corner has an operating point. */
  floorPlan(stage: Stage): FloorPlan | undefined {
    const evaluated = evaluateStage(stage);
    const ground = evaluated.ok ? planGround(evaluated.value) : undefined;
    return ground && { ground, proposal: proposePlan(ground) };
  },
  /** The edge of a hot loop at its worst corner as a netlist, or the words for why there is none. */
  edgeNetlist(stage: Stage, key: string, inductance: number): { readonly text: string } | string {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok) return LACKS;
    const { complete, corners } = evaluated.value;
    const worst = worstLoops(evaluated.value).find((loop) => loopKey(loop) === key);
    const at = corners.find(({ corner }) => corner === worst?.corner);
    if (at?.result.kind !== 'solved') return 'the loop has no operating point';
    const loop = worstLoops({ complete, corners: [at] }).find((one) => loopKey(one) === key);
    const text = loop && edgeNetlist(stage.name, at.result, loop, inductance);
    return text?.ok === true ? { text: text.value } : 'the records do not say what it rings with';
  },
  /** Conducted noise at a condition, with a capacitor across the terminals, or the words for why there is none. */
  conductedNoise(
    stage: Stage,
    network: Network,
    { inputVoltage, outputCurrent }: NoiseCondition,
    terminal: number | undefined,
  ): ConductedNoise | string {
    const complete = completeStage(stage);
    if (!complete.ok) return LACKS;
    const condition = { inputVoltage, load: { kind: 'current', current: outputCurrent } } as const;
    return conductedNoise(
      complete.value,
      network,
      condition,
      terminal === undefined ? undefined : { capacitance: terminal },
    );
  },
  /** The smallest filter that brings noise below a limit, or the words for why there is none. */
  noiseFilter(
    stage: Stage,
    network: Network,
    { inputVoltage, outputCurrent }: NoiseCondition,
    judged: Parameters<typeof noiseFilter>[3],
  ): NoiseFilter | string {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok) return LACKS;
    const { complete, corners } = evaluated.value;
    const vIn = stage.targets.inputVoltage.min;
    const powers = corners.flatMap(({ corner, result }) =>
      result.kind === 'solved' && corner.inputVoltage === vIn ? [vIn * Math.abs(result.point.inputCurrent)] : [],
    );
    if (powers.length === 0) return 'at the lowest input the stage has no operating point';
    const condition = { inputVoltage, load: { kind: 'current', current: outputCurrent } } as const;
    return noiseFilter(complete, network, condition, judged, { vIn, power: Math.max(...powers) });
  },
  /** All that can hurt someone, or the stage, on one sheet. */
  careSheet(stage: Stage): Sheet | undefined {
    const evaluated = evaluateStage(stage);
    return evaluated.ok ? careSheet(evaluated.value) : undefined;
  },
};
