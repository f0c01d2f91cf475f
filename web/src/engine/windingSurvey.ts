import {
  chokeCautions,
  chokeDemand,
  chokeFaults,
  chokeOf,
  chokePart,
  chokePrice,
  chokeVolume,
  chokeWorking,
  evaluateStage,
  gapFor,
  gapWords,
  materialComparison,
  searchChokes,
  specOf,
  swingingChoke,
  swingStudy,
  windingSheet,
  workChoke,
  type AppliedForm,
  type ChokeDemand,
  type ChokeDesign,
  type ChokeSearch,
  type ChokeSpec,
  type Fringing,
  type MaterialComparison,
  type PartOf,
  type Stage,
  type SwingStudy,
  type Sheet,
  type WorkedChoke,
} from '@yundro/core';
import { keptRecord, measuredFit } from './measuredRecord';

type Cores = readonly PartOf<'core'>[];
/** °C of a core at work, where a gap is looked for before it is worked. */
const WARM = 90;

/** A design of a search, by the name of its core. */
export interface FoundChoke extends Pick<ChokeDesign, 'worked' | 'loss' | 'volume' | 'price' | 'cautions' | 'best'> {
  readonly spec: ChokeSpec;
}

/** What a search found, and what the present choke of the stage does. */
export interface FoundChokes extends Omit<ChokeSearch, 'designs'> {
  readonly designs: readonly FoundChoke[];
  readonly demand: Pick<ChokeDemand, 'inductance' | 'full' | 'limit' | 'ambient' | 'filled' | 'unsolved'>;
  readonly present: {
    readonly name: string;
    readonly loss: number;
    /** Its loss is without that of its core, as it states no coefficient. */
    readonly withoutCore: boolean;
    readonly volume: number | undefined;
    readonly price: number | undefined;
  };
}

/** A choke worked, with all that is said of it. */
export interface ChokeReport {
  readonly worked: WorkedChoke;
  readonly demand: FoundChokes['demand'];
  readonly faults: readonly string[];
  readonly cautions: readonly string[];
  readonly gap: string;
  /** m, with which it would have the inductance wanted; undefined where no gap does, or it takes none. */
  readonly gapWanted: number | undefined;
  readonly volume: number;
  readonly price: number;
  readonly part: PartOf<'inductor'>;
  readonly sheet: Sheet;
  /** How its figures came about, at its worst corner. */
  readonly working: readonly AppliedForm[];
}

/** A choke that swings beside the one it came of. */
export interface SwingReport {
  readonly spec: ChokeSpec;
  readonly worked: WorkedChoke;
  readonly plain: WorkedChoke;
  readonly part: PartOf<'inductor'>;
  readonly demand: FoundChokes['demand'];
  /** Why the swinging one cannot be taken. */
  readonly faults: readonly string[];
  readonly study: SwingStudy;
}

function asked(stage: Stage) {
  const evaluated = evaluateStage(stage);
  if (!evaluated.ok) return 'The stage lacks a part: what the choke carries is not known yet.';
  const demand = chokeDemand(evaluated.value);
  return typeof demand === 'string' ? demand : { demand, evaluated: evaluated.value };
}

const brief = ({ inductance, full, limit, ambient, filled, unsolved }: ChokeDemand): FoundChokes['demand'] => ({
  inductance,
  full,
  limit,
  ambient,
  filled,
  unsolved,
});

/** Questions about a choke that is wound; the words for why there is no answer. */
export const windingSurvey = {
  /** A record of an oscilloscope, read off the page's thread. */
  chokeRecord: keptRecord,
  chokeFit: measuredFit,
  chokeSearch(stage: Stage, cores: Cores, fringing: Fringing, tell: (share: number) => void): FoundChokes | string {
    const found = asked(stage);
    if (typeof found === 'string') return found;
    const { demand, evaluated } = found;
    const { designs, ...search } = searchChokes(demand, cores, { fringing }, tell);
    const { inductor } = stage.parts;
    const { length, width, height } = inductor ?? {};
    const losses = evaluated.corners.map(({ result }) =>
      result.kind === 'solved'
        ? result.heat.lines.filter(({ key }) => key.startsWith('inductor')).reduce((sum, { watts }) => sum + watts, 0) /
          stage.phases
        : 0,
    );
    return {
      ...search,
      designs: designs.map(({ choke, ...rest }) => ({ ...rest, spec: specOf(choke) })),
      demand: brief(demand),
      present: {
        name: inductor?.name ?? 'the present one',
        loss: Math.max(...losses),
        withoutCore: inductor?.coreLossCoefficient === undefined,
        volume: length && width && height ? length * width * height : undefined,
        price: inductor?.price,
      },
    };
  },
  chokeWorked(stage: Stage, cores: Cores, spec: ChokeSpec): ChokeReport | string {
    const found = asked(stage);
    if (typeof found === 'string') return found;
    const choke = chokeOf(spec, cores);
    if (typeof choke === 'string') return choke;
    const { demand } = found;
    const worked = workChoke(choke, demand);
    const gapped = choke.core.material.kind === 'ferrite' && choke.core.shape !== 'toroid' && choke.core.airGap === 0;
    return {
      worked,
      demand: brief(demand),
      faults: chokeFaults(choke, worked, demand),
      cautions: chokeCautions(choke, worked),
      gap: gapWords(choke),
      gapWanted: gapped ? gapFor(choke, demand.inductance, demand.full, worked.worst.temperature) : undefined,
      volume: chokeVolume(choke, worked),
      price: chokePrice(choke, worked),
      part: chokePart(choke, worked, demand, `${choke.core.name} x ${String(choke.turns)}`),
      sheet: windingSheet(choke, worked, demand, stage.name),
      working: chokeWorking(choke, worked, demand),
    };
  },
  chokeMaterials(stage: Stage, cores: Cores, tell: (share: number) => void): MaterialComparison | string {
    const found = asked(stage);
    return typeof found === 'string' ? found : materialComparison(found.demand, cores, tell);
  },
  chokeSwing(
    stage: Stage,
    cores: Cores,
    spec: ChokeSpec,
    step: { readonly share: number; readonly gap: number },
    tell: (share: number) => void,
  ): SwingReport | string {
    const found = asked(stage);
    if (typeof found === 'string') return found;
    const level = chokeOf({ ...spec, step: undefined }, cores);
    if (typeof level === 'string') return level;
    if (level.core.material.kind !== 'ferrite' || level.core.shape === 'toroid' || level.core.airGap > 0)
      return 'A stepped gap takes a ferrite pair: choose an E pair, a pot or a planar core under “One choke”.';
    const { demand } = found;
    // What has a step already had its other gap narrowed for it: the fixed one beside it has the gap it would have alone.
    const alone = spec.step && gapFor(level, demand.inductance, demand.full, WARM);
    const choke = alone === undefined ? level : { ...level, gap: alone };
    const plain = workChoke(choke, demand);
    const swinging = swingingChoke(choke, demand, step, plain.worst.temperature);
    if (typeof swinging === 'string') return swinging;
    const worked = workChoke(swinging, demand);
    const part = chokePart(swinging, worked, demand, `${choke.core.name} x ${String(choke.turns)} swinging`);
    const study = swingStudy(stage, chokePart(choke, plain, demand, 'fixed'), part, {
      tell,
      synchronous:
        stage.rectifier === 'diode' && stage.parts.lowSide !== undefined
          ? { ...stage, rectifier: 'synchronous' }
          : undefined,
    });
    return typeof study === 'string'
      ? study
      : {
          spec: specOf(swinging),
          worked,
          plain,
          part,
          demand: brief(demand),
          faults: chokeFaults(swinging, worked, demand),
          study,
        };
  },
};
