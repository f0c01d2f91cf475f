import { describe, expect, test } from '@jest/globals';
import { TOPOLOGIES, TOPOLOGY_NAMES, topologyOf } from './topologies.js';
import type { Conversion } from './topology.js';

const conversion = (inputVoltage: number, outputVoltage: number, legsTogether = false): Conversion => ({
  inputVoltage,
  outputVoltage,
  legsTogether,
});

describe.each(TOPOLOGY_NAMES.map((name) => [name, TOPOLOGIES[name]] as const))('%s', (name, topology) => {
  const of = conversion(12, topology.sign * (topology.reach === 'below' ? 5 : 30));
  test('every leg is drawn, driven and known to block something', () => {
    const drawn = topology.phase(1);
    expect(drawn.cells).toHaveLength(topology.legs.length);
    expect(topology.operation(of).drives).toHaveLength(topology.legs.length);
    expect(topology.sizedAs(of).drives).toHaveLength(topology.legs.length);
    const places = topology.legs.flatMap(({ main, rectifier }) => [main, rectifier]);
    expect(new Set(places).size).toBe(places.length);
    for (const place of places) expect(topology.blocks[place]).toBeDefined();
    expect(topologyOf({ topology: name })).toBe(topology);
  });
  test('phases share input, output and ground, and no node of their own', () => {
    const shared = new Set(['in', 'out', '0']);
    const nodes = (k: number): Set<string> => {
      const { inductor, cells } = topology.phase(k);
      return new Set([...inductor, ...cells.flatMap(({ main, rectifier }) => [...main, ...rectifier])]);
    };
    for (const node of nodes(0)) if (!shared.has(node)) expect(nodes(3).has(node)).toBe(false);
    for (const node of topology.phase(2).nodes) expect(nodes(2).has(node)).toBe(true);
  });
  // Volt-seconds on the inductor balance at the ideal duty ratio: R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics,
  // 2nd ed., ch. 2.
  test.each([
    [12, 5],
    [5, 12],
    [12, 12],
    [12, 11],
  ])('volt-seconds balance at the ideal duty ratio, %d V to %d V', (vIn, size) => {
    if (topology.reach === 'below' && size >= vIn) return;
    if (topology.reach === 'above' && size <= vIn) return;
    for (const together of topology.borders ? [false, true] : [false]) {
      const { drives, idealDuty } = topology.operation(conversion(vIn, topology.sign * size, together));
      const { inductor, cells } = topology.phase(0);
      const voltage: Record<string, number> = { in: vIn, out: topology.sign * size, '0': 0 };
      /** The average voltage of a node of the inductor: what its leg connects it to, by its share of the period. */
      const averageOf = (node: string): number => {
        const leg = cells.findIndex(({ main, rectifier }) => [...main, ...rectifier].includes(node));
        const [cell, drive] = [cells[leg], drives[leg]];
        if (!cell || !drive || voltage[node] !== undefined) return voltage[node] ?? NaN;
        const other = ([a, b]: readonly [string, string]): number => voltage[a === node ? b : a] ?? NaN;
        const on =
          'resting' in drive
            ? drive.resting === 'on'
              ? 1
              : 0
            : drive.until === 'command-end'
              ? idealDuty
              : drive.until;
        return on * other(cell.main) + (1 - on) * other(cell.rectifier);
      };
      expect(averageOf(inductor[0]) - averageOf(inductor[1])).toBeCloseTo(0, 9);
    }
  });
});

describe('the four-switch stage', () => {
  const { operation, worksAs, borders, sizedAs } = TOPOLOGIES['four-switch-buck-boost'];
  test('changes its region where a leg would come to its limit', () => {
    const at = (vIn: number) => operation(conversion(vIn, 12)).region;
    const { boostBelow, buckAbove } = borders?.(12) ?? { boostBelow: NaN, buckAbove: NaN };
    expect([boostBelow, buckAbove].map((volts) => volts.toFixed(3))).toEqual(['10.800', '13.333']);
    expect([at(boostBelow - 0.01), at(boostBelow + 0.01)]).toEqual(['boost', 'transition']);
    expect([at(buckAbove - 0.01), at(buckAbove + 0.01)]).toEqual(['transition', 'buck']);
    expect(operation(conversion(12, 12, true)).region).toBe('simultaneous');
  });
  test('works as one of the canonical converters but in the transition', () => {
    expect((['buck', 'boost', 'simultaneous', 'transition', undefined] as const).map(worksAs)).toEqual([
      'buck',
      'boost',
      'buck-boost',
      undefined,
      undefined,
    ]);
    expect(operation(conversion(12, 12)).fixedLegDuty).toBe(0.9);
    expect(operation(conversion(12, 6)).fixedLegDuty).toBeUndefined();
  });
  test('is sized as the nearer of its sides', () => {
    expect(sizedAs(conversion(12, 11)).converter).toBe('buck');
    expect(sizedAs(conversion(12, 13)).converter).toBe('boost');
    expect(sizedAs(conversion(12, 13, true)).converter).toBe('buck-boost');
  });
});
