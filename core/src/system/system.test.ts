import { describe, expect, test } from '@jest/globals';
import { operatingPoint } from '../steady/operatingPoint.js';
import { completeStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { feedingTree, type Fed } from './feedingTree.js';
import { meanDrawn, powerFlow, waysToLoads } from './powerFlow.js';

const MOSFET = { onResistance: 8e-3 };
function fed(
  name: string,
  input: { readonly min: number; readonly max: number },
  outputVoltage: number,
  current: object,
  fedBy?: string,
): Fed {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    name,
    topology: 'buck',
    switchingFrequency: 300e3,
    ...(fedBy !== undefined && { fedBy }),
    targets: { inputVoltage: input, outputVoltage, outputCurrent: current },
    parts: {
      inductor: { inductance: 10e-6, resistance: 10e-3 },
      outputCapacitors: [{ capacitance: 100e-6, esr: 5e-3, esl: 0 }],
      highSide: MOSFET,
      lowSide: MOSFET,
    },
  });
  if (!read.ok) throw new Error(JSON.stringify(read));
  return { name, stage: read.value };
}
const bus = fed('bus', { min: 20, max: 28 }, 12, { max: 8 });
const logic = fed('logic', { min: 11, max: 13 }, 3.3, { min: 0.1, max: 6 }, 'bus');
const core = fed('core', { min: 11, max: 13 }, 1.2, { min: 0.5, max: 10 }, 'bus');
const alone = fed('alone', { min: 20, max: 28 }, 5, { min: 0.1, max: 2 });

describe('how stages feed each other', () => {
  test('feeders come before what they feed, whatever the order they are told in', () => {
    const { order, feeder, fed: of, amiss } = feedingTree([core, alone, logic, bus]);
    const place = (name: string): number => order.findIndex((one) => one.name === name);
    expect(order).toHaveLength(4);
    expect(place('bus')).toBeLessThan(place('core'));
    expect(place('bus')).toBeLessThan(place('logic'));
    expect(feeder.get('core')?.name).toBe('bus');
    expect(feeder.has('alone')).toBe(false);
    expect(of.get('bus')?.map(({ name }) => name)).toEqual(['core', 'logic']);
    expect(amiss).toEqual([]);
  });
  test('what cannot be is a sentence, and the rest stands', () => {
    const lost = fed('lost', { min: 11, max: 13 }, 5, { max: 1 }, 'nowhere');
    const unfit = fed('unfit', { min: 5, max: 6 }, 3.3, { max: 1 }, 'bus');
    const a = fed('a', { min: 4, max: 12 }, 3.3, { max: 1 }, 'b');
    const b = fed('b', { min: 3.3, max: 12 }, 3, { max: 1 }, 'a');
    const { amiss, order } = feedingTree([bus, lost, unfit, a, b, { ...alone, name: 'bus' }]);
    expect(amiss).toHaveLength(5);
    expect(amiss.join(' ')).toMatch(/b gives 3\.00.V; a takes 4\.00.V/);
    expect(amiss.join(' ')).toMatch(/lost is fed by nowhere, which is not in this project/);
    expect(amiss.join(' ')).toMatch(/bus gives 12\.0.V; unfit takes 5\.00.V to 6\.00.V/);
    expect(amiss.join(' ')).toMatch(/b is fed by a, which it feeds itself/);
    expect(amiss.join(' ')).toMatch(/Two stages are called bus/);
    expect(order.map(({ name }) => name).sort()).toEqual(['a', 'b', 'bus', 'lost', 'unfit']);
    const turned = { name: 'turned', stage: { ...bus.stage, targets: { ...bus.stage.targets, outputVoltage: -12 } } };
    const below = feedingTree([turned, { name: 'below', stage: { ...core.stage, fedBy: 'turned' } }]);
    expect(below.feeder.size).toBe(0);
    expect(below.amiss[0]).toMatch(/turned gives .12\.0.V/);
  });
});

describe('the power through them', () => {
  const tree = feedingTree([core, alone, logic, bus]);
  const flow = powerFlow(tree, { source: 'nominal', load: 1 });
  const of = (name: string) => {
    const found = flow.flows.find((one) => one.name === name);
    if (!found) throw new Error(name);
    return found;
  };
  test("a feeder carries what it feeds draws, and every figure is the stage's own to the last digit", () => {
    expect(of('bus').outputCurrent).toBe((of('core').input + of('logic').input) / 12);
    expect(of('bus').spare).toBe(8 - of('bus').outputCurrent);
    for (const { name, stage } of tree.order) {
      const complete = completeStage(stage);
      if (!complete.ok) throw new Error(name);
      const { inputVoltage, outputCurrent, input, output } = of(name);
      const point = operatingPoint(complete.value, {
        inputVoltage,
        ambient: 25,
        load: { kind: 'current', current: outputCurrent },
      });
      if (point.kind !== 'solved') throw new Error(point.reason);
      expect([input, output]).toEqual([point.point.inputPower, point.point.outputPower]);
    }
    expect(of('core').inputVoltage).toBe(12);
    expect(of('bus').inputVoltage).toBe(24);
  });
  test('what is drawn is what is delivered and every loss, and a loss counts at the source by what it takes to bring it there', () => {
    const losses = flow.flows.reduce((sum, one) => sum + one.loss, 0);
    expect(flow.drawn / (flow.delivered + losses)).toBeCloseTo(1, 9);
    expect(of('bus').atSource).toBe(1);
    expect(of('core').atSource).toBeCloseTo(of('bus').input / of('bus').output, 12);
  });
  test('the source at its ends, and lighter loads, each no lighter than the stage is made for', () => {
    expect(powerFlow(tree, { source: 'min', load: 1 }).flows[0]?.inputVoltage).toBe(20);
    const light = powerFlow(tree, { source: 'max', load: 0 });
    expect(light.flows.find(({ name }) => name === 'core')?.outputCurrent).toBe(0.5);
    expect(light.drawn).toBeLessThan(0.1 * flow.drawn);
  });
  test('the way to each load beside a linear regulator from its source', () => {
    const ways = waysToLoads(tree, flow);
    expect(ways.map(({ name }) => name).sort()).toEqual(['alone', 'core', 'logic']);
    const way = ways.find(({ name }) => name === 'logic');
    const stage = of('logic');
    expect(way?.through).toBeCloseTo((stage.output / stage.input) * (of('bus').output / of('bus').input), 12);
    expect(way?.linear).toBeCloseTo(3.3 / 24, 12);
  });
  test('the mean over hours at shares of the load', () => {
    const full = flow.drawn;
    const half = powerFlow(tree, { source: 'nominal', load: 0.5 }).drawn;
    expect(
      meanDrawn(tree, [
        { share: 1, hours: 6 },
        { share: 0.5, hours: 18 },
      ]),
    ).toBeCloseTo((6 * full + 18 * half) / 24, 9);
    expect(meanDrawn(tree, [{ share: 1, hours: 0 }])).toBeUndefined();
  });
  test('where no power can be followed the reason is told, up to the source', () => {
    const { stage } = logic;
    const { inductor, ...parts } = stage.parts;
    expect(inductor).toBeDefined();
    const broken = powerFlow(feedingTree([bus, core, { name: 'logic', stage: { ...stage, parts } }]), {
      source: 'nominal',
      load: 1,
    });
    expect(broken.broken).toEqual([
      'bus: what it feeds is not known for logic.',
      'logic: it has not all its parts yet.',
    ]);
    // What is fed by it could be worked, but no source is known to feed it: it counts nowhere.
    expect(broken.flows.map(({ name, atSource }) => [name, atSource])).toEqual([['core', undefined]]);
    expect([broken.drawn, broken.delivered]).toEqual([0, 0]);
    const tree = feedingTree([bus, core, { name: 'logic', stage: { ...stage, parts } }, alone]);
    const beside = powerFlow(tree, { source: 'nominal', load: 1 });
    expect(beside.delivered).toBe(beside.flows.find(({ name }) => name === 'alone')?.output);
    expect(beside.delivered).toBeLessThan(beside.drawn);
    expect(waysToLoads(tree, beside).map(({ name }) => name)).toEqual(['alone']);
    expect(
      meanDrawn(feedingTree([bus, core, { name: 'logic', stage: { ...stage, parts } }]), [{ share: 1, hours: 1 }]),
    ).toBeUndefined();
  });
});
