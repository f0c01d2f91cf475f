import { GROUND } from '../circuit/elements.js';
import { leastSpacing } from '../layout/spacing.js';
import { ringingWith } from '../layout/worstLoops.js';
import { formatQuantity } from '../quantity/engineering.js';
import { hullOf, hullsMeet, lineToHull } from './hull.js';
import { loopWay, padOn, wayInductance, type Laid, type LoopWay } from './loopWay.js';
import type { Outline } from './outline.js';
import {
  corners,
  gapOf,
  nearest,
  outlineBox,
  overlap,
  padBox,
  type Box,
  type Placement,
  type Point,
} from './placement.js';
import { apartKey, CONTROLLER, DIVIDER, FEEDBACK, gateNet, type PlanGround, type PlanLoop } from './planGround.js';
import { ASSEMBLY_GAP, FEEDBACK_CLEARANCE } from './laying.js';

/** How a rule of the floor plan stands. `heed`: no plan settles it. @public */
export type RuleState = 'holds' | 'broken' | 'heed';

/** A rule as it is judged on a plan. @public */
export interface JudgedRule {
  readonly key: string;
  readonly state: RuleState;
  /** With its figures. */
  readonly says: string;
  readonly reason: string;
  /** The parts it is about, where it is broken. */
  readonly keys: readonly string[];
}

/** A loop as it lies. @public */
export interface LaidLoop {
  readonly loop: PlanLoop;
  readonly way: LoopWay;
  /** H */
  readonly inductance: number;
  /** V on the device that blocks, about and at the most; undefined where its record does not say what it rings with. */
  readonly peak: { readonly about: number; readonly most: number } | undefined;
}

/** The copper of a switch node as small as it can be: the hull of its pads. @public */
export interface NodeCopper {
  readonly net: string;
  readonly words: string;
  readonly hull: readonly Point[];
}

/** A plan with what is true of it. @public */
export interface JudgedPlan {
  readonly loops: readonly LaidLoop[];
  readonly copper: readonly NodeCopper[];
  /** The lines of the feedback, as straight as they can be. */
  readonly feedback: readonly (readonly [Point, Point])[];
  readonly rules: readonly JudgedRule[];
  /** m, of the rectangle around all parts. */
  readonly size: { readonly width: number; readonly height: number };
}

/** Common practice: how much more inductance than proposed is let pass, as a share; m of the line to the feedback pin, and of gate lines. */
const LOOP_SLACK = 0.25;
const PIN_LINE = 10e-3;
const GATE_LINE = 20e-3;
/** m between what grows old by heat and what gets hot. */
const COOL = 3e-3;
/** Spread of the lengths from chokes to the output that is let pass, as a share of their mean. */
const SPREAD = 0.5;

const apartBy = (gap: number): string => (gap === 0 ? 'touch, ' : `are ${mm(gap)} apart `);
const mm = (metres: number): string => formatQuantity(metres, 'm', 2);

const list = (words: readonly string[]): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1) ?? ''}`;

/** The loops of a plan as they lie. @public */
export function laidLoops(ground: PlanGround, placement: Placement, plane: number | undefined): readonly LaidLoop[] {
  const laid = { outlines: new Map(ground.outlines.map((one) => [one.key, one])), placement };
  return ground.loops.flatMap((loop) => {
    const way = loopWay(loop, laid);
    if (!way) return [];
    const inductance = wayInductance(way, plane);
    const ringing = ringingWith(loop.worst, inductance);
    return [
      {
        loop,
        way,
        inductance,
        peak: ringing && { about: loop.worst.blocked + ringing.overshoot, most: loop.worst.blocked + ringing.most },
      },
    ];
  });
}

interface Body {
  readonly outline: Outline;
  readonly box: Box;
}

/** What every rule looks at. */
interface Judging {
  readonly ground: PlanGround;
  readonly laid: Laid;
  readonly bodies: readonly Body[];
  readonly loops: readonly LaidLoop[];
  readonly copper: readonly NodeCopper[];
  readonly feedback: JudgedPlan['feedback'];
  readonly plane: number | undefined;
  readonly proposed: readonly LaidLoop[];
}

type Rule = (judging: Judging) => readonly JudgedRule[];

const rule = (
  key: string,
  broken: boolean,
  says: string,
  reason: string,
  keys: readonly string[] = [],
): JudgedRule => ({
  key,
  state: broken ? 'broken' : 'holds',
  says: says.charAt(0).toUpperCase() + says.slice(1),
  reason,
  keys: broken ? keys : [],
});

const bodiesApart: Rule = ({ bodies }) => {
  const near = bodies.flatMap((a, k) =>
    bodies
      .slice(k + 1)
      // A micrometre is rounding of the grid.
      .filter((b) => overlap(a.box, b.box) || gapOf(a.box, b.box) < ASSEMBLY_GAP - 1e-6)
      .map((b) => [a.outline, b.outline] as const),
  );
  const [first] = near;
  return [
    rule(
      'bodies',
      first !== undefined,
      first
        ? `${first[0].words} and ${first[1].words} lie closer than ${mm(ASSEMBLY_GAP)}${near.length > 1 ? `, and ${String(near.length - 1)} more pairs` : ''}.`
        : `Every part has ${mm(ASSEMBLY_GAP)} around it.`,
      'Placing machines, soldering and inspection want room. Common practice.',
      near.flat().map(({ key }) => key),
    ),
  ];
};

const loopsShort: Rule = ({ loops, proposed }) =>
  loops.map(({ loop, way, inductance }) => {
    const known = proposed.find((one) => one.loop.key === loop.key)?.inductance;
    const tooLong = known !== undefined && inductance > (1 + LOOP_SLACK) * known;
    return rule(
      `loop ${loop.key}`,
      tooLong,
      `The loop of ${loop.words} is ${mm(way.length)} round, ${formatQuantity(inductance, 'H', 2)}${known === undefined ? '' : `; proposed: ${formatQuantity(known, 'H', 2)}`}.`,
      `${formatQuantity(loop.worst.current, 'A', 3)} turns over in it in ${formatQuantity(loop.worst.edge, 's', 2)}${loop.worst.edgeStated ? '' : ', a fast edge assumed'}.`,
      way.keys,
    );
  });

const withinRating: Rule = ({ loops }) =>
  loops.flatMap(({ loop, way, peak }) => {
    const { rating, rings } = loop.worst;
    if (peak === undefined || rating === undefined) {
      const lacks = peak === undefined ? 'output charge of the device that blocks' : 'rating of the device that blocks';
      return [
        {
          key: `rating ${loop.key}`,
          state: 'heed',
          says: `What the loop of ${loop.words} rings to is not judged: the ${lacks} is not stated.`,
          reason: 'Fill what is typical, under Targets, or choose a part from the library.',
          keys: [],
        },
      ];
    }
    const left =
      rings?.recoveryCharge === undefined ? ', without the recovery, which is not stated and makes it more' : '';
    return [
      rule(
        `rating ${loop.key}`,
        peak.most > rating,
        `It rings to about ${formatQuantity(peak.about, 'V', 3)}, at the most to ${formatQuantity(peak.most, 'V', 3)}, of ${formatQuantity(rating, 'V', 3)}${left}.`,
        'Less copper, a slower edge by a gate resistor, or a snubber bring it down.',
        way.keys,
      ),
    ];
  });

const returnBeneath: Rule = ({ loops, plane }) => {
  const [widest] = [...loops].sort((a, b) => b.way.area - a.way.area);
  if (!widest) return [];
  // Of a loop of this length and area, the mean distance of the way back from the way out.
  const beside = (2 * widest.way.area) / widest.way.length;
  return [
    rule(
      'return',
      plane === undefined,
      plane === undefined
        ? `No plane: the way back lies ${mm(beside)} beside its way out, not under it.`
        : `The way back lies ${mm(plane)} under its way out.`,
      'Current at an edge takes the way of least inductance: under the way out, where the plane is whole.',
      widest.way.keys,
    ),
  ];
};

const feedbackClear: Rule = ({ copper, feedback }) => {
  let least = Infinity;
  let of: NodeCopper | undefined;
  for (const [a, b] of feedback)
    for (const one of copper) {
      const gap = lineToHull(a, b, one.hull);
      if (gap >= least) continue;
      least = gap;
      of = one;
    }
  if (!of) return [];
  return [
    rule(
      'feedback',
      least < FEEDBACK_CLEARANCE,
      least === 0
        ? `The feedback line crosses the copper of ${of.words}.`
        : `The feedback line passes ${of.words} at ${mm(least)}.`,
      `It is the line of highest resistance on the board: ${mm(FEEDBACK_CLEARANCE)} or more from what swings. Common practice.`,
      [CONTROLLER, DIVIDER],
    ),
  ];
};

const pinNear: Rule = ({ laid }) => {
  const [pin, divider] = [padOn(laid, CONTROLLER, FEEDBACK), padOn(laid, DIVIDER, FEEDBACK)];
  if (!pin || !divider) return [];
  const gap = gapOf(pin, divider);
  return [
    rule(
      'pin',
      gap > PIN_LINE,
      `The divider lies ${mm(gap)} from the feedback pin.`,
      `Up to ${mm(PIN_LINE)}: beyond the divider the line is of low resistance and may be long. Common practice.`,
      [CONTROLLER, DIVIDER],
    ),
  ];
};

const gatesNear: Rule = ({ ground, laid }) => {
  const lines = ground.outlines
    .filter(({ kind }) => kind === 'switch')
    .flatMap((outline) => {
      const net = gateNet(outline.element ?? '');
      const [gate, pin] = [padOn(laid, outline.key, net), padOn(laid, CONTROLLER, net)];
      return gate && pin ? [{ outline, length: gapOf(gate, pin) }] : [];
    })
    .sort((a, b) => b.length - a.length);
  const [longest] = lines;
  if (!longest) return [];
  return [
    rule(
      'gates',
      longest.length > GATE_LINE,
      `The longest gate line is ${mm(longest.length)}, to the ${longest.outline.words}.`,
      `Up to ${mm(GATE_LINE)}, with its way back beside it: its inductance rings with the gate. Common practice.`,
      [CONTROLLER, ...lines.filter(({ length }) => length > GATE_LINE).map(({ outline }) => outline.key)],
    ),
  ];
};

/** Pads of two parts that are nearer than the voltage between their nets allows, the worst first. */
function tooNear({ ground, laid, bodies }: Judging, holds: (a: Outline, b: Outline) => boolean) {
  const found: { a: Outline; b: Outline; gap: number; least: number; voltage: number }[] = [];
  bodies.forEach(({ outline: a, box }, k) => {
    for (const { outline: b, box: other } of bodies.slice(k + 1)) {
      // Nothing on this board is further apart than that by the table.
      if (gapOf(box, other) > 0.02 || !holds(a, b)) continue;
      for (const one of a.pads)
        for (const two of b.pads) {
          const voltage = ground.apart[apartKey(one.net, two.net)];
          const [at, to] = [laid.placement[a.key], laid.placement[b.key]];
          if (voltage === undefined || one.net === two.net || !at || !to) continue;
          const gap = gapOf(padBox(one, at), padBox(two, to));
          const least = leastSpacing('bare', voltage);
          if (gap < least - 1e-6) found.push({ a, b, gap, least, voltage });
        }
    }
  });
  return found.sort((one, two) => one.gap / one.least - two.gap / two.least);
}

const isTab = ({ kind }: Outline): boolean => kind === 'switch' || kind === 'diode';

const padsApart: Rule = (judging) => {
  const [worst, ...more] = tooNear(judging, (a, b) => !(isTab(a) && isTab(b)));
  return [
    rule(
      'spacing',
      worst !== undefined,
      worst
        ? `Pads of ${worst.a.words} and ${worst.b.words} ${apartBy(worst.gap)}with ${formatQuantity(worst.voltage, 'V', 3)} between them: ${mm(worst.least)} is asked.`
        : 'Pads of different nets are as far apart as their voltage asks.',
      'IPC-2221, bare outer layer, from memory. It is no safety insulation.',
      [worst, ...more].flatMap((one) => (one ? [one.a.key, one.b.key] : [])),
    ),
  ];
};

const tabsApart: Rule = (judging) => {
  const [worst, ...more] = tooNear(judging, (a, b) => isTab(a) && isTab(b));
  const tabs = judging.ground.outlines.filter(isTab);
  const nets = new Set(tabs.map(({ pads }) => pads.at(-1)?.net));
  if (tabs.length < 2) return [];
  const apart = rule(
    'tabs',
    worst !== undefined,
    worst
      ? `${worst.a.words} and ${worst.b.words}, at different potentials, ${apartBy(worst.gap)}where ${mm(worst.least)} is asked at ${formatQuantity(worst.voltage, 'V', 3)}.`
      : 'Switches at different potentials are far enough apart.',
    'A tab is its drain or its cathode. IPC-2221, bare outer layer, from memory.',
    [worst, ...more].flatMap((one) => (one ? [one.a.key, one.b.key] : [])),
  );
  if (!judging.ground.sinks || nets.size < 2) return [apart];
  return [
    apart,
    {
      key: 'heatsink',
      state: 'heed',
      says: `Tabs at ${String(nets.size)} potentials: on one heatsink each needs an insulator, and a bush for its screw.`,
      reason: 'A bare tab, or a washer that touches it, joins them.',
      keys: [],
    },
  ];
};

const legsApart: Rule = ({ loops }) => {
  const pairs = loops.flatMap((a, k) =>
    loops
      .slice(k + 1)
      .filter((b) => !a.loop.worst.devices.some((device) => b.loop.worst.devices.includes(device)))
      .map((b) => [a, b] as const),
  );
  if (pairs.length === 0) return [];
  const hull = ({ way }: LaidLoop): readonly Point[] => hullOf(way.pieces.flatMap(({ from, to }) => [from, to]));
  const meeting = pairs.filter(([a, b]) => hullsMeet(hull(a), hull(b)));
  const [first] = meeting;
  return [
    rule(
      'legs',
      first !== undefined,
      first
        ? `The loop of ${first[0].loop.words} and that of ${first[1].loop.words} lie over each other.`
        : 'No hot loop lies over another.',
      'They carry edges at different instants: what they share couples one into the other.',
      meeting.flatMap((pair) => pair.flatMap(({ way }) => way.keys)),
    ),
  ];
};

const phasesAlike: Rule = ({ ground, laid }) => {
  const output = 'output terminal';
  const outlet = laid.outlines.get(output)?.pads.find(({ net }) => net !== GROUND)?.net ?? '';
  const end = padOn(laid, output, outlet);
  const ways = ground.phaseChokes.flatMap((key) => {
    const pad = laid.outlines.get(key)?.pads.at(-1);
    const at = pad && padOn(laid, key, pad.net);
    return end && at ? [{ key, length: gapOf(at, end) }] : [];
  });
  if (ways.length < 2) return [];
  const lengths = ways.map(({ length }) => length);
  const [most, least] = [Math.max(...lengths), Math.min(...lengths)];
  const mean = lengths.reduce((sum, one) => sum + one, 0) / lengths.length;
  return [
    rule(
      'phases',
      most - least > SPREAD * mean,
      `From the chokes to the output it is ${mm(least)} to ${mm(most)}.`,
      'Unequal copper is unequal current, and what interleaving cancels is gone by as much. Common practice.',
      ways.filter(({ length }) => length === most || length === least).map(({ key }) => key),
    ),
  ];
};

const agesCool: Rule = ({ ground, bodies }) => {
  const ageing = bodies.filter(({ outline }) => outline.wearsOut);
  if (ageing.length === 0) return [];
  const near = ageing.filter(({ box }) =>
    bodies.some(({ outline, box: other }) => ground.hot.includes(outline.key) && gapOf(box, other) < COOL),
  );
  return [
    rule(
      'ageing',
      near.length > 0,
      near.length > 0
        ? `${list(near.map(({ outline }) => outline.words))}: less than ${mm(COOL)} from what gets hot.`
        : `Electrolytic capacitors are ${mm(COOL)} or more from what gets hot.`,
      'Ten degrees take half their life. Common practice.',
      near.map(({ outline }) => outline.key),
    ),
  ];
};

const RULES: readonly Rule[] = [
  loopsShort,
  withinRating,
  returnBeneath,
  feedbackClear,
  pinNear,
  gatesNear,
  legsApart,
  phasesAlike,
  tabsApart,
  padsApart,
  bodiesApart,
  agesCool,
];

/**
 * What is true of a plan: its loops with their inductance, the copper of its switch nodes, its feedback lines, and every rule of this stage.
 *
 * @param plane height over a whole plane under the stage, m; undefined where there is none.
 * @param proposed loops of the proposal over the same plane, against which theirs are judged.
 * @public
 */
export function judgePlan(
  ground: PlanGround,
  placement: Placement,
  plane: number | undefined,
  proposed: readonly LaidLoop[],
): JudgedPlan {
  const laid = { outlines: new Map(ground.outlines.map((one) => [one.key, one])), placement };
  const bodies = ground.outlines.flatMap((outline): Body[] => {
    const placed = placement[outline.key];
    return placed ? [{ outline, box: outlineBox(outline, placed) }] : [];
  });
  const copper = ground.nets
    .filter(({ kind }) => kind === 'switch node')
    .map(({ net, words }) => ({
      net,
      words,
      hull: hullOf(
        ground.outlines.flatMap(({ key }) => {
          const pad = padOn(laid, key, net);
          return pad ? corners(pad) : [];
        }),
      ),
    }));
  const loops = laidLoops(ground, placement, plane);
  const feedback = feedbackLines(ground, laid);
  const judging: Judging = { ground, laid, bodies, loops, copper, feedback, plane, proposed };
  const [left, right] = [
    Math.min(...bodies.map(({ box }) => box.left)),
    Math.max(...bodies.map(({ box }) => box.right)),
  ];
  const [top, bottom] = [
    Math.min(...bodies.map(({ box }) => box.top)),
    Math.max(...bodies.map(({ box }) => box.bottom)),
  ];
  return {
    loops,
    copper,
    feedback,
    rules: RULES.flatMap((one) => one(judging)),
    size: bodies.length === 0 ? { width: 0, height: 0 } : { width: right - left, height: bottom - top },
  };
}

/** From the pin to the divider, and from the divider to the nearest capacitor of the output. */
function feedbackLines(ground: PlanGround, laid: Laid): JudgedPlan['feedback'] {
  const lines: (readonly [Point, Point])[] = [];
  const [pin, divided] = [padOn(laid, CONTROLLER, FEEDBACK), padOn(laid, DIVIDER, FEEDBACK)];
  if (pin && divided) lines.push(nearest(pin, divided));
  const net = laid.outlines.get(DIVIDER)?.pads.at(-1)?.net ?? '';
  const top = padOn(laid, DIVIDER, net);
  if (!top) return lines;
  const outputs = ground.outlines
    .filter(({ kind }) => kind === 'capacitor')
    .flatMap(({ key }) => padOn(laid, key, net) ?? [])
    .sort((a, b) => gapOf(a, top) - gapOf(b, top));
  const [output] = outputs;
  if (output) lines.push(nearest(top, output));
  return lines;
}
