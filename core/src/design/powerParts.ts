import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { isDriven, isSilicon } from '../library/drivenSwitch.js';
import type { PartOf } from '../library/libraryPart.js';
import { edgeTimes } from '../losses/switchTerms.js';
import { formatQuantity } from '../quantity/engineering.js';
import { VOLTAGE_MARGIN } from '../rules/rules.js';
import { selectInductors } from '../selection/inductors.js';
import { selectSwitches, SWITCH_MARGINS, type SwitchCandidate } from '../selection/switches.js';
import type { Choice } from '../sizing/choice.js';
import { paralleledMosfet } from '../stage/paralleledMosfet.js';
import { coresOf } from '../stage/coupling.js';
import type { Stage } from '../stage/schema.js';
import { SWITCH_WORDS } from '../stage/completeStage.js';
import { topologyOf } from '../topology/topologies.js';
import type { SwitchPlace } from '../topology/topology.js';
import type { Inventory } from '../library/inventory.js';
import { figuresOf, fullLoadPoint, lossOf, meritOf, takenBy, takenByParts, type Objective } from './merit.js';

/** A stage with parts of the inventory in it, and why each. */
export interface Chosen {
  readonly evaluated: EvaluatedStage;
  readonly choices: readonly Choice[];
}

/** What was chosen, with the choices under a path, a first cut's among them, in the place of those before. */
export const withChoices = ({ evaluated, choices }: Chosen, under: string, made: readonly Choice[]): Chosen => ({
  evaluated,
  choices: [...choices.filter(({ path }) => !path.startsWith(under)), ...made],
});
export const withChoice = (chosen: Chosen, under: string, made: Choice): Chosen => withChoices(chosen, under, [made]);

/** A stage with changes, worked; undefined where it cannot be. */
export function workedWith(stage: Stage, change: Partial<Stage>): EvaluatedStage | undefined {
  const found = evaluateStage({ ...stage, ...change });
  return found.ok ? found.value : undefined;
}

/** Where no ripple ratio is asked for, a choke is looked for that keeps it within this span. Common practice. */
const RIPPLE_SPAN = { least: 0.15, most: 0.5 };
/** And where no record does, up to this: at 2 the current of full load just reaches zero in every period. */
const WIDEST_RIPPLE = 2;
/** Where one is asked for, no choke has much more inductance than that takes. */
const LEAST_OF_ASKED = 0.35;
const CHOKES = 14;
/** How far the estimate of the inductance that is needed may be off, with tolerance, saturation and coupling. */
const NEAR_LEAST = 0.5;
const NEAR_MOST = 2;
const COMMON = 'Common practice';

/** Chokes on offer, and whether they ripple more than is usual, as no record does less. */
interface OfferedChokes {
  readonly chokes: readonly PartOf<'inductor'>[];
  readonly wide: boolean;
}

/**
 * Chokes of the inventory for a worked stage, the best by the objective first. What each loses is worked from the flux swing and the
 * currents of every corner.
 */
export function chokesFor(evaluated: EvaluatedStage, inventory: Inventory, objective: Objective): OfferedChokes {
  const asked = evaluated.complete.stage.targets.inductorRippleRatio;
  const within = (least: number, most: number) => chokesWithin(evaluated, inventory, objective, least, most);
  if (asked !== undefined) return { chokes: within(LEAST_OF_ASKED * asked, asked), wide: false };
  const usual = within(RIPPLE_SPAN.least, RIPPLE_SPAN.most);
  return usual.length > 0
    ? { chokes: usual, wide: false }
    : { chokes: within(RIPPLE_SPAN.most, WIDEST_RIPPLE), wide: true };
}

/** Those whose ripple ratio at full load lies within a span. */
function chokesWithin(
  evaluated: EvaluatedStage,
  inventory: Inventory,
  objective: Objective,
  least: number,
  most: number,
): readonly PartOf<'inductor'>[] {
  const { stage } = evaluated.complete;
  const { phases } = stage;
  const rest = lossOf(evaluated);
  const others = takenByParts({ ...stage, parts: { ...stage.parts, inductor: undefined } });
  const own = fullLoadPoint(evaluated)?.point.losses ?? {};
  const present = ['inductorCopper', 'inductorAlternating', 'inductorCore'].reduce(
    (sum, key) => sum + (own[key] ?? 0),
    0,
  );
  // What cannot fit by its value alone is not worked: ripple goes about with one over the inductance.
  const { inductance } = evaluated.complete.inductor;
  const ripples = Math.max(
    ...evaluated.evaluation.operatingPoints
      .filter(({ outputCurrent }) => outputCurrent === stage.targets.outputCurrent.max)
      .map(({ inductorCurrent }) => inductorCurrent.ripple / inductorCurrent.average),
  );
  const about = (inductance * ripples) / most;
  const near = inventory.inductor.filter(
    (part) => part.inductance > NEAR_LEAST * about && part.inductance < (most / least) * NEAR_MOST * about,
  );
  return selectInductors(evaluated, near)
    .filter(({ fits, rippleRatio }) => fits && rippleRatio <= most && rippleRatio >= least)
    .map(({ part, copperLoss, coreLoss }) => {
      const taken = takenBy(part, coresOf(stage));
      // A core loss that is not stated is taken to be that of the copper: common practice for a choke that is well used.
      const loss = Math.max(0, rest - present) + phases * (copperLoss + (coreLoss ?? copperLoss));
      return {
        part,
        merit: meritOf({ loss, area: others.area + taken.area, price: others.price + taken.price }, objective),
      };
    })
    .sort((a, b) => a.merit - b.merit)
    .slice(0, CHOKES)
    .map(({ part }) => part);
}

/** Why a choke was taken; a pair of coupled windings has its own coefficient, near the one that was asked for. */
export const chokeChoices = (part: PartOf<'inductor'>, offered: number, wide: boolean): readonly Choice[] => [
  chokeChoice(part, offered, wide),
  ...(part.couplingCoefficient === undefined
    ? []
    : [
        {
          path: 'coupling.coefficient',
          quantity: 'coupling coefficient',
          unit: 'ratio',
          value: part.couplingCoefficient,
          rule: `That of ${part.name}, a pair of windings on one core.`,
          source: COMMON,
        } as const,
      ]),
];

const chokeChoice = (part: PartOf<'inductor'>, offered: number, wide: boolean): Choice => ({
  path: 'parts.inductor.inductance',
  quantity: 'inductance',
  unit: 'H',
  value: part.inductance,
  rule: `${part.name}: of ${String(offered)} records that ${wide ? `ripple more than ${String(RIPPLE_SPAN.most)} of the load, as none does less` : 'keep the ripple'}, saturate above the highest peak and stay cool, the best by the objective.`,
  source: COMMON,
});

/** A switch of the inventory at each place that is to be chosen, main switches first. */
export function withSwitches(
  chosen: Chosen,
  inventory: Inventory,
  objective: Objective,
  free: (place: SwitchPlace) => boolean,
): Chosen {
  let found = chosen;
  const { stage } = chosen.evaluated.complete;
  const places = topologyOf(stage).legs.flatMap(({ main, rectifier }) =>
    stage.rectifier === 'synchronous' ? [main, rectifier] : [main],
  );
  const { gateDriver } = stage.control;
  /** The gate drive that the switches chosen so far want, V; one that is stated is looked at with each record. */
  let drive =
    gateDriver?.voltage === undefined
      ? places.filter((place) => !free(place)).flatMap((place) => stage.parts[place]?.gateDriveVoltage ?? [])[0]
      : undefined;
  for (const place of places.filter(free)) {
    const { evaluated } = found;
    const current = evaluated.complete.stage;
    const margins = {
      ...SWITCH_MARGINS,
      junctionMax: current.targets.junctionTemperatureMax ?? SWITCH_MARGINS.junctionMax,
    };
    const blocks = Math.max(
      0,
      ...evaluated.evaluation.operatingPoints.map(({ switchStress }) => switchStress[place]?.voltage ?? 0),
    );
    // What cannot be rated for it, what is rated for far more, and what wants another drive than its neighbour is not worked.
    const parts = inventory.mosfet.filter((part) => {
      const { gateDriveVoltage, drainSourceVoltageMax = 0 } = part;
      return (
        drainSourceVoltageMax >= VOLTAGE_MARGIN * blocks &&
        drainSourceVoltageMax <= Math.max(MOST_RATED * blocks, LEAST_CLASS) &&
        (stage.control.controller === undefined
          ? isSilicon(part) || gateDriver !== undefined
          : isDriven(part, gateDriver?.voltage ?? Infinity)) &&
        (drive === undefined || gateDriveVoltage === undefined || Math.abs(gateDriveVoltage - drive) <= SAME_DRIVE)
      );
    });
    const profile = fullLoadPoint(evaluated);
    if (!profile) continue;
    const select = (of: readonly PartOf<'mosfet'>[]): readonly SwitchCandidate[] =>
      selectSwitches(evaluated, place, of, [{ solved: profile, hours: 1 }], margins);
    const candidates = select(parts);
    const rest = figuresOf(evaluated);
    const present = current.parts[place];
    const without = takenBy(present, current.phases);
    // What the present switch costs, as its rivals are reckoned.
    const own = present && select([{ ...present, name: present.name ?? place }])[0];
    const fitting = candidates
      .filter(({ fits }) => fits)
      .map((candidate) => {
        const taken = takenBy({ ...candidate.part, count: candidate.count }, current.phases);
        return {
          candidate,
          merit: meritOf(
            {
              loss: Math.max(0, rest.loss - (own?.loss ?? 0)) + candidate.loss,
              area: rest.area - without.area + taken.area,
              price: rest.price - without.price + taken.price,
            },
            objective,
          ),
        };
      })
      .sort((a, b) => a.merit - b.merit);
    const [best] = fitting;
    if (!best) continue;
    const { part, count, loss } = best.candidate;
    const mosfet = { ...part, ...(count > 1 && { count }) };
    const next = workedWith(current, { parts: { ...current.parts, [place]: mosfet } });
    if (!next) continue;
    found = withChoice({ evaluated: next, choices: found.choices }, `parts.${place}.`, {
      path: `parts.${place}.onResistance`,
      quantity: `${SWITCH_WORDS[place].replace(' switch', '')} on-resistance`,
      unit: 'ohm',
      value: part.onResistance,
      rule: `${part.name}${count > 1 ? `, ${String(count)} in parallel` : ''}: of ${String(fitting.length)} records within ratings and junction limit the best by the objective; it costs ${formatQuantity(loss, 'W', 3)} at nominal input and full load.`,
      source: COMMON,
    });
    drive ??= part.gateDriveVoltage;
  }
  return found;
}

/** Rating over what is blocked beyond which a switch is not looked at, and a rating that always is, V. */
const MOST_RATED = 3;
const LEAST_CLASS = 40;
/** One driver serves a stage: gates that want further apart than this, V, do not share it. Common practice. */
const SAME_DRIVE = 1.5;

/** Diodes that are worked whole at most. */
const DIODES_WORKED = 8;

/** A diode of the inventory: within its ratings, cool enough, best by the objective. */
export function withDiode(chosen: Chosen, inventory: Inventory, objective: Objective): Chosen {
  const { stage } = chosen.evaluated.complete;
  const points = chosen.evaluated.evaluation.operatingPoints;
  const places = topologyOf(stage).legs.map(({ rectifier }) => rectifier);
  const stress = (of: 'voltage' | 'peakCurrent'): number =>
    Math.max(0, ...points.flatMap((point) => places.map((place) => point.switchStress[place]?.[of] ?? 0)));
  const average = Math.max(...points.map(({ inductorCurrent }) => inductorCurrent.average));
  const fitting = inventory.diode
    .filter(
      ({ reverseVoltageMax = 0, currentMax = 0 }) =>
        reverseVoltageMax >= VOLTAGE_MARGIN * stress('voltage') && currentMax >= average,
    )
    .map((part) => ({ part, drop: part.forwardVoltage + part.dynamicResistance * average }))
    .sort((a, b) => a.drop - b.drop || (a.part.price ?? 0) - (b.part.price ?? 0))
    .slice(0, DIODES_WORKED)
    .flatMap(({ part }) => {
      const evaluated = workedWith(stage, { parts: { ...stage.parts, diode: part } });
      if (!evaluated) return [];
      const hot = evaluated.evaluation.verdicts.reduce(
        (most, { target, pass, margin }) =>
          /Junction/.test(target) && !pass ? Math.max(most, -(margin ?? -10)) : most,
        0,
      );
      return [{ part, evaluated, hot, merit: meritOf(figuresOf(evaluated), objective) }];
    })
    .sort((a, b) => a.hot - b.hot || a.merit - b.merit);
  const [best] = fitting;
  if (!best) return chosen;
  return withChoice({ evaluated: best.evaluated, choices: chosen.choices }, 'parts.diode', {
    path: 'parts.diode.forwardVoltage',
    quantity: 'diode forward voltage',
    unit: 'V',
    value: best.part.forwardVoltage,
    rule: `${best.part.name}: of the records rated for ${String(VOLTAGE_MARGIN)} times what it blocks and for its average current, the best by the objective${best.hot > 0 ? '; none keeps its junction within the limit' : ''}.`,
    source: COMMON,
  });
}

/** Dead time over the slowest edge, what a driver pair is apart, s, and the step it is set in. Common practice. */
const EDGES_WITHIN = 1.5;
const DRIVER_SPREAD = 10e-9;
const SET_IN = 5e-9;
const LEAST_DEAD_TIME = 20e-9;

/** A dead time that the slowest edge and the spread of the drivers fit into. */
export function withDeadTime(chosen: Chosen): Chosen {
  const { stage } = chosen.evaluated.complete;
  if (stage.rectifier !== 'synchronous') return chosen;
  const edges = (['highSide', 'lowSide', 'outputHighSide', 'outputLowSide'] as const).flatMap((place) => {
    const mosfet = stage.parts[place];
    const times = mosfet && edgeTimes(paralleledMosfet(mosfet), stage.control.gateDriver);
    return times ? [times.on, times.off] : [];
  });
  const wanted = Math.max(LEAST_DEAD_TIME, EDGES_WITHIN * Math.max(0, ...edges) + DRIVER_SPREAD);
  const deadTime = Number((Math.ceil(wanted / SET_IN - 1e-9) * SET_IN).toPrecision(6));
  const evaluated = workedWith(stage, { deadTime });
  if (!evaluated) return chosen;
  return withChoice({ evaluated, choices: chosen.choices }, 'deadTime', {
    path: 'deadTime',
    quantity: 'dead time',
    unit: 's',
    value: deadTime,
    rule: `Half as long again as the slowest edge of ${formatQuantity(Math.max(0, ...edges), 's', 2)}, and ${formatQuantity(DRIVER_SPREAD, 's')} for what two drivers are apart; ${formatQuantity(LEAST_DEAD_TIME, 's')} at least.`,
    source: COMMON,
  });
}
