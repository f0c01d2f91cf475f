import { GROUND } from '../circuit/elements.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import type { ClosedForm } from '../firstcut/closedForm.js';
import { nodeWords } from '../powerstage/elementWords.js';
import { JUNCTION_LIMIT } from '../thermal/room.js';
import { SWITCH_WORDS } from '../stage/completeStage.js';
import { blockingTerminals } from './blockingTerminals.js';
import type { SwitchPlace } from '../topology/topology.js';

/** What lies between a tab and a heatsink, K m²/W over its area: common practice, from memory. @public */
export const INSULATORS = {
  bare: { words: 'nothing but grease', specific: 0.4e-4, insulates: false },
  mica: { words: 'mica, greased', specific: 1.2e-4, insulates: true },
  film: { words: 'polyimide film, coated', specific: 1.6e-4, insulates: true },
  pad: { words: 'silicone pad', specific: 3e-4, insulates: true },
  ceramic: { words: 'alumina, greased', specific: 0.9e-4, insulates: true },
} as const;
/** @public */
export type Insulator = keyof typeof INSULATORS;

/** Resistance of what lies between a tab and its heatsink. @public */
export const insulatorResistance: ClosedForm<'specific' | 'area'> = {
  name: 'Resistance from tab to heatsink',
  symbol: 'R_i',
  unit: 'K/W',
  formula: '\\frac{r}{A}',
  source: 'Definition; r common practice, from memory',
  assumption: 'Pressed as its record wants, dry of bubbles. Ask the data of the material for r at your pressure.',
  inputs: {
    specific: { symbol: 'r', name: 'specific resistance, in K m²/W', unit: 'ratio' },
    area: { symbol: 'A', name: 'area of the tab', unit: 'm²' },
  },
  compute: (v) => v.specific / v.area,
};

/** A switch of each phase and place, or several in parallel, with its tab. @public */
export interface Tab {
  readonly place: SwitchPlace;
  readonly words: string;
  /** All of this place: phases and devices in parallel. */
  readonly count: number;
  /** The nodes its tabs stand at, in words; more than one with several phases. */
  readonly potentials: readonly string[];
  /** K/W, of one; undefined where its record does not say. */
  readonly junctionToCase: number | undefined;
  /** m², of the body as its record has it; undefined where it does not say. */
  readonly area: number | undefined;
  /** W, of one, by corner, at the junction temperature of the ledger there. */
  readonly losses: readonly number[];
}

/** What is to be cooled. @public */
export interface TabGround {
  readonly tabs: readonly Tab[];
  /** °C, by corner. */
  readonly ambients: readonly number[];
  /** °C */
  readonly limit: number;
}

/** W that warm the junctions of a place: all its lines but the gate, which is lost in the driver. Known whether or not a way for the heat is. */
const junctionLoss = (losses: Readonly<Record<string, number>>, place: SwitchPlace): number =>
  Object.entries(losses).reduce(
    (sum, [key, watts]) => sum + (key.startsWith(place) && key !== `${place}Gate` ? watts : 0),
    0,
  );

/** The tabs of a stage with their losses at every corner that has an operating point. @public */
export function tabGround({ complete, corners }: EvaluatedStage): TabGround {
  const { stage, legs } = complete;
  const solved = corners.flatMap(({ corner, result }) => (result.kind === 'solved' ? [{ corner, result }] : []));
  const [first] = solved;
  const tabs = legs.flatMap(({ mainPlace, rectifierPlace, rectifier }): Tab[] =>
    (
      [
        [mainPlace, stage.parts[mainPlace]],
        [rectifierPlace, rectifier.kind === 'switch' ? stage.parts[rectifierPlace] : rectifier.diode],
      ] as const
    ).map(([place, part]) => {
      const positions = first?.result.powerStage.elements.positions[place] ?? [];
      const potentials = positions.map(({ device }) => {
        const element = first?.result.powerStage.circuit.elements.find(({ name }) => name === device);
        if (!element || !first) return '';
        const [node] = blockingTerminals(first.result.solution, element);
        return node === GROUND ? 'ground' : nodeWords(node);
      });
      // As its record has one of them, not all in parallel as the circuit does.
      const parallel = part && 'count' in part ? (part.count ?? 1) : 1;
      return {
        place,
        words: rectifier.kind === 'diode' && place === rectifierPlace ? 'diode' : SWITCH_WORDS[place],
        count: parallel * stage.phases,
        potentials: [...new Set(potentials)],
        junctionToCase: part?.junctionToCase,
        area: part?.length !== undefined && part.width !== undefined ? part.length * part.width : undefined,
        losses: solved.map(({ result }) => junctionLoss(result.point.losses, place) / (parallel * stage.phases)),
      };
    }),
  );
  return {
    tabs,
    ambients: solved.map(({ corner }) => corner.temperature),
    limit: stage.targets.junctionTemperatureMax ?? JUNCTION_LIMIT,
  };
}

/** A heatsink that all tabs share. @public */
export interface SharedSink {
  /** K/W, to the air. */
  readonly sink: number;
  readonly insulator: Insulator;
  /** m², of a tab, where its record does not say. */
  readonly area: number;
}

/** A tab on it, at its worst corner. @public */
export interface SunkTab {
  readonly tab: Tab;
  /** K/W */
  readonly insulator: number;
  /** W, of one. */
  readonly loss: number;
  /** °C; undefined where its record states no resistance to its case. */
  readonly junction: number | undefined;
}

/**
 * Several tabs on one heatsink: T_s = T_a + R_s ΣP, T_j = T_s + P (R_jc + R_i), at the corner where the heatsink is hottest. The losses are those
 * at the junction temperatures of the ledger: taken into the stage, they follow.
 *
 * @returns undefined where no corner has an operating point.
 * @public
 */
export function sharedSink(
  { tabs, ambients }: TabGround,
  { sink, insulator, area }: SharedSink,
): { readonly sink: number; readonly tabs: readonly SunkTab[]; readonly joins: readonly string[] } | undefined {
  const totals = ambients.map((_, k) => tabs.reduce((sum, { losses, count }) => sum + count * (losses[k] ?? 0), 0));
  const temperatures = totals.map((total, k) => (ambients[k] ?? 0) + sink * total);
  const hottest = Math.max(...temperatures);
  const k = temperatures.indexOf(hottest);
  if (k < 0) return undefined;
  const potentials = [...new Set(tabs.flatMap((tab) => tab.potentials))];
  return {
    sink: hottest,
    tabs: tabs.map((tab) => {
      const between = insulatorResistance.compute({ specific: INSULATORS[insulator].specific, area: tab.area ?? area });
      const loss = tab.losses[k] ?? 0;
      const { junctionToCase } = tab;
      return {
        tab,
        insulator: between,
        loss,
        junction: junctionToCase === undefined ? undefined : hottest + loss * (junctionToCase + between),
      };
    }),
    joins: INSULATORS[insulator].insulates || potentials.length < 2 ? [] : potentials,
  };
}
