import { describe, expect, test } from '@jest/globals';
import { complete } from '../../testing/loopStage.js';
import { evaluateStage } from '../corners/evaluate.js';
import { planeLoopInductance } from '../layout/conductorForms.js';
import { airLines } from './airLines.js';
import { loopWay, wayInductance, VIA_DIAMETER, viaInductance } from './loopWay.js';
import { outlineBox, type Placement } from './placement.js';
import { planGround, type PlanGround } from './planGround.js';
import { judgePlan, laidLoops, type JudgedRule } from './planRules.js';
import { placementOrder, proposePlan } from './proposal.js';
import { wayWorking } from './wayWorking.js';

const PLANE = 0.2e-3;
const CAPACITOR = { capacitance: 22e-6, esr: 3e-3, count: 3, length: 3.2e-3, width: 2.5e-3 };
const SWITCH = { onResistance: 0.01, length: 5e-3, width: 4e-3, outputCharge: 20e-9, outputChargeVoltage: 12 };
const PARTS = {
  inductor: { inductance: 2.2e-6, resistance: 5e-3, length: 7e-3, width: 7e-3 },
  inputCapacitors: [CAPACITOR],
  outputCapacitors: [CAPACITOR, { ...CAPACITOR, kind: 'electrolytic', count: 1, length: 8e-3, width: 8e-3 }],
  highSide: { ...SWITCH, drainSourceVoltageMax: 30 },
  lowSide: { ...SWITCH, drainSourceVoltageMax: 20 },
};

const SOURCE = { resistance: 0.01, inductance: 1e-6 };

/** Without a divider of its own, so that it regulates to whatever output is asked. */
const CONTROL = { scheme: 'voltage-mode' };

function groundOf(over: object = {}, parts: object = {}): PlanGround {
  const found = evaluateStage(complete(over, CONTROL, { ...PARTS, ...parts }).stage);
  const ground = found.ok ? planGround(found.value) : undefined;
  if (!ground) throw new Error(found.ok ? 'unsolved' : JSON.stringify(found));
  return ground;
}
const laid = (ground: PlanGround, placement: Placement) => ({
  outlines: new Map(ground.outlines.map((one) => [one.key, one])),
  placement,
});
const buck = groundOf();
const proposal = proposePlan(buck);
const rulesOf = (ground: PlanGround, placement: Placement, from = proposal) =>
  judgePlan(ground, placement, PLANE, laidLoops(ground, from, PLANE)).rules;
const named = (rules: readonly JudgedRule[], name: string): JudgedRule => {
  const rule = rules.find(({ key }) => key === name || key.startsWith(`${name} `));
  if (!rule) throw new Error(`no rule ${name}`);
  return rule;
};
const put = (key: string, x: number, y: number, turn: 0 | 1 | 2 | 3 = 0): Placement => ({
  ...proposal,
  [key]: { x, y, turn },
});

describe('the ground of a plan', () => {
  test('every part of a bank, both switches by their drains, the controller with its lines; nothing ideal', () => {
    const keys = buck.outlines.map(({ key }) => key);
    expect(keys.filter((key) => key.startsWith('inputCapacitor1'))).toHaveLength(3);
    expect(keys.filter((key) => key.startsWith('outputCapacitor'))).toHaveLength(4);
    expect(keys.some((key) => /feed|source|load|Body/.test(key))).toBe(false);
    const tab = (key: string) => buck.outlines.find((one) => one.key === key)?.pads.at(-1)?.net;
    expect([tab('highSide1.1'), tab('lowSide1.1')]).toEqual(['in', 'sw1']);
    expect(buck.nets.find(({ net }) => net === 'sw1')?.kind).toBe('switch node');
    expect(buck.nets.filter(({ kind }) => kind === 'gate')).toHaveLength(2);
    expect(buck.outlines.filter(({ stated }) => !stated).map(({ key }) => key)).toEqual([
      'input terminal',
      'output terminal',
      'controller',
      'divider',
    ]);
  });
  test('a record without a size is a large one of its class, and says so', () => {
    const bare = groundOf({}, { inductor: { inductance: 2.2e-6 } });
    const choke = bare.outlines.find(({ kind }) => kind === 'choke');
    expect(choke).toMatchObject({ stated: false, length: 13e-3, width: 13e-3 });
  });
  test('the loop of an inverting stage goes through both banks, that of a boost through its output', () => {
    const OUT = { outputCapacitors: [CAPACITOR] };
    const inverting = groundOf(
      {
        topology: 'inverting-buck-boost',
        targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: -5, outputCurrent: { min: 1, max: 2 } },
      },
      OUT,
    );
    const [loop] = inverting.loops;
    expect(loop?.steps.map(({ keys }) => keys[0]?.replace(/\..*/, ''))).toEqual([
      'highSide1',
      'inputCapacitor1',
      'outputCapacitor1',
      'lowSide1',
    ]);
    // Once round it, each step begins where the one before ends.
    loop?.steps.forEach((step, k) => expect(loop.steps[(k + 1) % loop.steps.length]?.from).toBe(step.to));
    const boost = groundOf(
      {
        topology: 'boost',
        targets: { inputVoltage: { min: 5, max: 5 }, outputVoltage: 12, outputCurrent: { min: 1, max: 2 } },
      },
      OUT,
    );
    expect(boost.loops[0]?.steps.flatMap(({ keys }) => keys)).toEqual(
      expect.arrayContaining(['outputCapacitor1.1', 'lowSide1.1', 'highSide1.1']),
    );
  });
});

describe('the way of a loop', () => {
  const [loop] = buck.loops;
  if (!loop) throw new Error('no loop');
  const wayOf = (placement: Placement) => loopWay(loop, laid(buck, placement));
  test('goes through the nearest capacitor, and past one that was taken away', () => {
    const near = wayOf(proposal);
    const taken = near?.keys.find((key) => key.startsWith('inputCapacitor')) ?? '';
    const far = wayOf(put(taken, 0.1, 0.1));
    expect(far?.keys).not.toContain(taken);
    expect(far?.length).toBeGreaterThan(near?.length ?? Infinity);
  });
  test('is none while a device is not placed', () => {
    const { ['highSide1.1']: without, ...rest } = proposal;
    expect(without).toBeDefined();
    expect(wayOf(rest)).toBeUndefined();
  });
  test('of switches in parallel it is that of the one which is worst off', () => {
    const two = groundOf({}, { lowSide: { ...PARTS.lowSide, count: 2 } });
    const plan = proposePlan(two);
    const own = two.loops[0];
    if (!own) throw new Error('no loop');
    const ways = (placement: Placement) => loopWay(own, laid(two, placement));
    const apart = ways({ ...plan, 'lowSide1.2': { x: 0.05, y: 0.05, turn: 0 } });
    expect(apart?.keys).toContain('lowSide1.2');
    expect(apart?.length).toBeGreaterThan(2 * (ways(plan)?.length ?? Infinity));
  });
  test('over a plane it is line by line and by vias on its net; its working adds up to it; without one it is more', () => {
    const way = wayOf(proposal);
    if (!way) throw new Error('no way');
    const over = way.pieces.map(({ from, to, width, net }) =>
      net === '0'
        ? viaInductance.compute({ height: PLANE, diameter: VIA_DIAMETER })
        : planeLoopInductance.compute({ length: Math.hypot(to.x - from.x, to.y - from.y), width, height: PLANE }),
    );
    const sum = over.reduce((total, one) => total + one, 0);
    expect(wayInductance(way, PLANE) / sum).toBeCloseTo(1, 12);
    expect(way.pieces.filter(({ net }) => net === '0')).toHaveLength(1);
    const worked = wayWorking(way, PLANE).reduce((total, { value }) => total + value, 0);
    expect(worked / sum).toBeCloseTo(1, 12);
    expect(wayInductance(way, undefined)).toBeGreaterThan(1.2 * sum);
    expect(wayWorking(way, undefined)[0]?.value).toBe(wayInductance(way, undefined));
  });
});

describe('a plan that is proposed', () => {
  const FOUR = {
    topology: 'four-switch-buck-boost',
    targets: { inputVoltage: { min: 8, max: 16 }, outputVoltage: 12, outputCurrent: { min: 1, max: 3 } },
  };
  const LEGS = { outputHighSide: PARTS.highSide, outputLowSide: PARTS.lowSide };
  test.each([
    ['a buck', {}, {}],
    ['two phases', { phases: 2 }, {}],
    ['a diode for a rectifier', { rectifier: 'diode' }, { diode: { forwardVoltage: 0.4 }, lowSide: undefined }],
    ['four switches', FOUR, LEGS],
    [
      'an input filter with damping',
      {},
      { inputFilter: { inductance: 1e-6, damping: { capacitance: 100e-6, resistance: 0.1 } } },
    ],
    [
      'a high voltage',
      { targets: { inputVoltage: { min: 300, max: 400 }, outputVoltage: 48, outputCurrent: { min: 1, max: 2 } } },
      {},
    ],
  ])(
    '%s: every part once, none over another, copper as far apart as its voltage asks, feedback clear',
    (_, over, parts) => {
      const ground = groundOf(over, parts);
      const plan = proposePlan(ground);
      expect(Object.keys(plan).sort()).toEqual(ground.outlines.map(({ key }) => key).sort());
      const rules = rulesOf(ground, plan, plan);
      for (const name of ['bodies', 'spacing', 'tabs', 'feedback', 'pin', 'loop'])
        expect(named(rules, name)).toMatchObject({ keys: [], state: 'holds' });
      // The same ground gives the same plan.
      expect(proposePlan(ground)).toEqual(plan);
    },
  );
  test('the loop is within a third of the least that its parts allow', () => {
    const way = loopWay(
      buck.loops[0] ?? { key: '', words: '', worst: undefined as never, steps: [] },
      laid(buck, proposal),
    );
    if (!way) throw new Error('no way');
    // Through three parts and over three gaps of assembly.
    const through = way.pieces.filter(({ net }) => net === undefined);
    expect(through).toHaveLength(3);
    const joints = way.pieces.filter(({ net }) => net !== undefined);
    for (const { from, to } of joints) expect(Math.hypot(to.x - from.x, to.y - from.y)).toBeLessThan(2.5e-3);
    expect(way.area).toBeLessThan(20e-6);
  });
  test('parts are placed in an order that names each once, switches first and the divider last', () => {
    const order = placementOrder(buck);
    expect(order.flatMap(({ keys }) => keys).sort()).toEqual(buck.outlines.map(({ key }) => key).sort());
    expect([order[0]?.words, order.at(-1)?.words]).toEqual(['Switches', 'Divider']);
  });
  test('what is still to be joined is a tree over the pads of each net', () => {
    const lines = airLines(buck, proposal);
    for (const { net } of buck.nets) {
      const pads = buck.outlines.flatMap(({ pads: all }) => all.filter((pad) => pad.net === net));
      expect(lines.filter((line) => line.net === net)).toHaveLength(net === '0' ? 0 : pads.length - 1);
    }
  });
});

describe('rules of a plan, each broken by what it is about', () => {
  const box = (key: string) => {
    const outline = buck.outlines.find((one) => one.key === key);
    const placed = proposal[key];
    if (!outline || !placed) throw new Error(key);
    return outlineBox(outline, placed);
  };
  const broken = (placement: Placement, name: string): JudgedRule => {
    const rule = named(rulesOf(buck, placement), name);
    expect(rule.state).toBe('broken');
    return rule;
  };
  test('a loop that is longer than proposed, with its figure', () => {
    const rule = broken(put('lowSide1.1', 0.06, 0.06), 'loop');
    expect(rule.says).toMatch(/H; proposed: /);
    expect(rule.keys).toContain('lowSide1.1');
    expect(named(rulesOf(buck, put('lowSide1.1', 0.06, 0.06)), 'rating').state).toBe('broken');
  });
  test('a ring that is not reckoned is to be heeded with what lacks, and one without its recovery says so', () => {
    const { outputCharge, ...silent } = PARTS.lowSide;
    expect(outputCharge).toBeDefined();
    const of = (lowSide: object) => {
      const ground = groundOf({}, { lowSide });
      const plan = proposePlan(ground);
      return named(rulesOf(ground, plan, plan), 'rating');
    };
    expect(of(silent)).toMatchObject({ state: 'heed' });
    expect(of(silent).says).toContain('output charge of the device that blocks is not stated');
    expect(of({ ...PARTS.lowSide, drainSourceVoltageMax: undefined }).says).toContain('the rating of the device');
    expect(of(PARTS.lowSide).says).toContain('without the recovery');
    expect(of({ ...PARTS.lowSide, recoveryCharge: 10e-9 }).says).not.toContain('without the recovery');
  });
  test('no plane under the way out', () => {
    expect(
      named(judgePlan(buck, proposal, undefined, laidLoops(buck, proposal, undefined)).rules, 'return').state,
    ).toBe('broken');
    expect(named(rulesOf(buck, proposal), 'return').state).toBe('holds');
  });
  test('a feedback line over the switch node', () => {
    const choke = box('inductor1.1');
    const other = box('lowSide1.1');
    const rule = broken(put('divider', (choke.left + other.right) / 2, (choke.top + other.bottom) / 2), 'feedback');
    expect(rule.says).toContain('crosses the copper of switch node 1');
  });
  test('a divider, and a switch, far from the controller', () => {
    expect(broken(put('divider', 0.1, 0.1), 'pin').says).toContain('from the feedback pin');
    expect(broken(put('highSide1.1', 0.1, 0.1), 'gates').keys).toContain('highSide1.1');
  });
  test('parts over each other, and pads nearer than their voltage asks', () => {
    const at = proposal['inputCapacitor1.1'];
    if (!at) throw new Error('not placed');
    expect(broken(put('inputCapacitor1.2', at.x + 1e-4, at.y), 'bodies').keys).toContain('inputCapacitor1.2');
    // Turned round and end to end: the input against the ground.
    const round = {
      ...proposal,
      'inputCapacitor1.1': { x: 0.05, y: 0, turn: 0 as const },
      'inputCapacitor1.2': { x: 0.05 + 3.25e-3, y: 0, turn: 0 as const },
    };
    expect(broken(round, 'spacing').says).toMatch(/50\Dµm apart with 12.0\DV between them: 100\Dµm is asked/u);
  });
  test('tabs at different potentials side by side', () => {
    const at = box('lowSide1.1');
    expect(broken(put('highSide1.1', at.left - 2.52e-3, (at.top + at.bottom) / 2), 'tabs').keys).toContain(
      'lowSide1.1',
    );
  });
  test('an electrolytic capacitor beside the choke', () => {
    const at = box('inductor1.1');
    const key = 'outputCapacitor2.1';
    expect(broken(put(key, at.right + 4.6e-3, (at.top + at.bottom) / 2), 'ageing').keys).toEqual([key]);
    expect(named(rulesOf(buck, put(key, 0.1, 0.1)), 'ageing').state).toBe('holds');
  });
  test('legs over each other, and phases of unlike length', () => {
    const two = groundOf({ phases: 2 });
    const plan = proposePlan(two);
    const beside = (key: string) => ({
      turn: 0 as const,
      x: 1e-3 + (plan[key]?.x ?? 0),
      y: 1e-3 + (plan[key]?.y ?? 0),
    });
    const over: Placement = { ...plan, 'highSide2.1': beside('highSide1.1'), 'lowSide2.1': beside('lowSide1.1') };
    expect(named(rulesOf(two, over, plan), 'legs').state).toBe('broken');
    const far: Placement = { ...plan, 'inductor2.1': { x: 0.1, y: 0.1, turn: 0 } };
    expect(named(rulesOf(two, far, plan), 'phases').state).toBe('broken');
  });
  test('on a heatsink tabs at two potentials are to be heeded, whatever the plan', () => {
    const sunk = groundOf({}, { cooling: { heatsink: 5 } });
    expect(named(rulesOf(sunk, proposePlan(sunk)), 'heatsink').state).toBe('heed');
    expect(rulesOf(buck, proposal).some(({ key }) => key === 'heatsink')).toBe(false);
  });
});

describe('what protects the input', () => {
  const ground = groundOf(
    {},
    {
      source: SOURCE,
      fuse: { resistance: 0.01 },
      reversePolarity: { forwardVoltage: 0.5, resistance: 0, length: 6e-3, width: 4e-3 },
      suppressor: { clampingVoltage: 20 },
      precharge: { resistance: 47 },
      preload: { resistance: 330 },
    },
  );
  const netsAt = (key: string): readonly string[] | undefined =>
    ground.outlines.find((one) => one.key === key)?.pads.map(({ net }) => net);

  test('stands on the plan between the terminal and the input, each at its nodes', () => {
    expect(netsAt('input terminal')).toEqual(['leads', '0']);
    expect(netsAt('fuse.1')).toEqual(['leads', 'fused']);
    expect(netsAt('reversePolarity.1')).toEqual(['fused', 'in']);
    // Behind the fuse: a suppressor that fails short opens it.
    expect(netsAt('suppressor')).toEqual(['fused', '0']);
    expect(netsAt('precharge')).toEqual(['leads', 'leads']);
    expect(netsAt('preload.1')).toEqual(['out', '0']);
    const sizes = ground.outlines.filter(({ kind }) => kind === 'protection').map(({ stated }) => stated);
    expect(sizes.filter(Boolean)).toHaveLength(1);
  });
  test('is laid with the terminals, after what carries edges, and apart from everything else', () => {
    const order = placementOrder(ground).findIndex(({ keys }) => keys.includes('fuse.1'));
    expect(placementOrder(ground)[order]?.keys).toEqual(
      expect.arrayContaining(['reversePolarity.1', 'suppressor', 'precharge', 'input terminal']),
    );
    expect(placementOrder(ground).findIndex(({ keys }) => keys.includes('highSide1.1'))).toBeLessThan(order);
    const plan = proposePlan(ground);
    const boxes = ground.outlines.map((one) => outlineBox(one, plan[one.key] ?? { x: 0, y: 0, turn: 0 }));
    boxes.forEach((a, k) =>
      boxes.slice(k + 1).forEach((b) => {
        expect(a.right <= b.left || b.right <= a.left || a.bottom <= b.top || b.bottom <= a.top).toBe(true);
      }),
    );
  });
});
