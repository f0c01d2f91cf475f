import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, jest, test } from '@jest/globals';
import { evaluationSchema, operatingPointSchema } from '@yundro/core';

// The first call bundles the program, which takes its time on a busy machine.
jest.setTimeout(180_000);

const program = new URL('../../bin/yundro', import.meta.url).pathname;
const folder = mkdtempSync(join(tmpdir(), 'yundro-cli-'));

/** Run the real program. */
function yundro(words: readonly string[], input = ''): Promise<{ code: number; out: string; err: string }> {
  return new Promise((resolve) => {
    const child = execFile(program, words, { maxBuffer: 1e8 }, (error, out, err) => {
      resolve({ code: error ? Number(error.code) : 0, out, err });
    });
    child.stdin?.end(input);
  });
}

/** What `evaluate --json` says: the evaluation, with its cautions and, where one was judged, the controllers beside it. */
function evaluationIn(out: string) {
  const {
    cautions,
    controllers,
    typical = [],
    ...evaluation
  } = JSON.parse(out) as {
    readonly cautions: readonly { readonly code: string; readonly sentence: string }[];
    readonly controllers?: readonly object[];
    readonly typical?: readonly object[];
  };
  for (const one of cautions) expect(Object.keys(one)).toEqual(['code', 'sentence']);
  for (const one of typical) expect(Object.keys(one)).toEqual(['path', 'quantity', 'unit', 'value']);
  for (const one of controllers ?? []) expect(Object.keys(one)).toEqual(['name', 'qualifies', 'reasons']);
  return { ...evaluationSchema.parse(evaluation), cautions };
}

const targets = {
  inputVoltage: { min: 20, max: 29.2 },
  outputVoltage: 12,
  outputCurrent: { min: 0.1, max: 8 },
  inductorRippleRatio: 0.35,
};
const bare = { format: 'yundro-stage', version: 1, topology: 'buck', switchingFrequency: 400e3, targets };
const file = (name: string, content: string): string => {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
};
const stageFile = file('bare.json', JSON.stringify(bare));

let completed: Promise<string> | undefined;
/** The stage as `size` completes it: once for all that look at it. */
const sizedFile = (): Promise<string> =>
  (completed ??= (async () => {
    const output = join(folder, 'sized-once.json');
    await yundro(['size', stageFile, '--output', output]);
    return output;
  })());

describe('size and evaluate', () => {
  test('size completes the targets, in the fields of the stage file format', async () => {
    const output = join(folder, 'sized.json');
    const { code, out, err } = await yundro(['size', stageFile, '--json', '--output', output]);
    expect([code, err]).toEqual([0, '']);
    const result = JSON.parse(out) as Record<string, unknown> & { operatingPoints: { duty: number }[] };
    expect(Object.keys(result)).toEqual([
      ...['stage', 'operatingPoints', 'verdicts', 'notJudged', 'notIncluded', 'choices'],
      ...['objective', 'figures', 'rivals', 'nearest', 'controllers', 'cautions'],
    ]);
    for (const point of result.operatingPoints) expect(operatingPointSchema.safeParse(point).success).toBe(true);
    const evaluated = await yundro(['evaluate', output, '--json']);
    const evaluation = evaluationIn(evaluated.out);
    expect(evaluation.verdicts.every(({ pass }) => pass)).toBe(true);
    const { inductor, highSide, outputCapacitors } = evaluation.stage.parts;
    for (const part of [inductor, highSide, outputCapacitors?.[0]]) expect(part?.name).toMatch(/^[A-Z]{2}\d/);
    // The written file is read and written again without a change.
    await yundro(['size', output, '--output', `${output}.again`]);
    expect(readFileSync(`${output}.again`, 'utf8')).toBe(readFileSync(output, 'utf8'));
  });
  test('a target that fails carries what mends it, and the stage its cautions, in JSON and in text', async () => {
    const read = JSON.parse(readFileSync(await sizedFile(), 'utf8')) as { targets: object };
    const judged = async (name: string, document: object) =>
      evaluationIn((await yundro(['evaluate', file(name, JSON.stringify(document)), '--json'])).out);
    const asking = (inputRipple: number) => ({
      ...read,
      targets: { ...read.targets, inputRipple, phaseMargin: 50, gainMargin: 8 },
    });
    const { verdicts } = await judged('easy.json', asking(10));
    const reached = verdicts.find(({ target }) => target === 'inputRipple')?.worst ?? NaN;
    // A fifth less than the stage does.
    const strict = asking(0.8 * reached);
    const report = await judged('failing.json', strict);
    const ripple = report.verdicts.find(({ target }) => target === 'inputRipple');
    expect(ripple?.pass).toBe(false);
    const [remedy] = ripple?.remedies ?? [];
    expect(remedy?.path).toBe('parts.inputCapacitors[0].count');
    expect(remedy?.effect).toContain('nothing else fails by it');
    // As it says, it mends.
    const mended = structuredClone(strict) as unknown as { parts: { inputCapacitors: { count: number }[] } };
    const [bank] = mended.parts.inputCapacitors;
    if (!bank) throw new Error('no bank');
    expect(bank.count).toBe(remedy?.from);
    bank.count = remedy?.to ?? NaN;
    const again = await judged('again.json', mended);
    expect(again.verdicts.filter(({ pass }) => !pass)).toEqual([]);
    // Drivers of the loop's margins are told too.
    expect(again.verdicts.find(({ target }) => target === 'phaseMargin')?.drivers).toHaveLength(3);
    expect(report['cautions']).toContainEqual(
      expect.objectContaining({ code: 'input-polarity', sentence: expect.stringContaining('polarity') }),
    );
    const text = (await yundro(['evaluate', join(folder, 'failing.json')])).out;
    expect(text).toContain('What mends what fails');
    expect(text).toContain('Cautions');
  });
  test('what parts do not state is left out and said to be, or filled from their class where that is asked for', async () => {
    const parts = {
      inductor: { inductance: 4.7e-6, resistance: 0.01 },
      outputCapacitors: [{ capacitance: 1e-4, esr: 0.005 }],
      highSide: { onResistance: 0.01 },
      lowSide: { onResistance: 0.005 },
    };
    const typed = file('typed.json', JSON.stringify({ ...bare, switchingFrequency: 400e3, parts }));
    const [left, filled] = await Promise.all(
      [[], ['--typical']].map(async (more) => evaluationIn((await yundro(['evaluate', typed, '--json', ...more])).out)),
    );
    expect(left?.notIncluded.join(' ')).toContain('core loss of the inductor');
    expect(filled?.notIncluded.join(' ')).not.toContain('inductor');
    const efficiencies = (of: typeof left): number[] => (of?.operatingPoints ?? []).map(({ efficiency }) => efficiency);
    efficiencies(filled).forEach((value, k) => expect(value).toBeLessThan(efficiencies(left)[k] ?? 0));
    const { out } = await yundro(['evaluate', typed, '--typical']);
    expect(out).toMatch(/Typical of their class.*\n(?:.*\n)* *high-side switch: total gate charge +\d.* nC/);
  });
  test('standard input and readable text', async () => {
    const { code, out } = await yundro(['size', '-'], JSON.stringify(bare));
    expect(code).toBe(0);
    expect(out).toMatch(/inductance +\d.*µH +L[A-Z]\d\d-.*: of \d+ records/);
    expect(out).toMatch(/Rivals\n/);
    expect(out).toMatch(/holds +duty ratio/);
  });
  test('the records are listed by kind; an inventory of one’s own takes their place, and its faults are named by row', async () => {
    const listed = await yundro(['parts', '--kind', 'mosfet', '--json']);
    const records = JSON.parse(listed.out) as { name: string; kind: string; drainSourceVoltageMax: number }[];
    expect(records.length).toBeGreaterThan(300);
    expect(new Set(records.map(({ kind }) => kind))).toEqual(new Set(['mosfet']));
    expect((await yundro(['parts', '--kind', 'ceramic'])).out).toMatch(/ceramic +CK25-10u-1206 +capacitance 0.00001/);
    expect((await yundro(['parts', '--kind', 'valve'])).err).toMatch(
      /There is no kind “valve”; the kinds are inductor/,
    );
    const all = JSON.parse((await yundro(['parts', '--json'])).out) as { kind: string; name: string }[];
    const own = all.filter(({ kind }) => kind !== 'inductor');
    own.push({ ...all.find(({ name }) => name === 'LX17-10u'), kind: 'inductor', name: 'OWN-10u' });
    const library = file('own.json', JSON.stringify(own));
    const sized = await yundro(['size', stageFile, '--json', '--library', library]);
    expect(sized.err).toBe('');
    expect(JSON.parse(sized.out)).toMatchObject({ stage: { parts: { inductor: { name: 'OWN-10u' } } } });
    const csv = file('own.csv', 'kind,name,inductance,resistance\ninductor,one,1u,1m\nmosfet,two,,\nvalve,three,,\n');
    expect((await yundro(['parts', '--library', csv])).err).toMatch(
      /row 4, kind: “valve” is no kind of part.*row 3, onResistance/,
    );
  });
  test('an objective moves the choice: for size less board than for efficiency, which loses less', async () => {
    const figures = async (objective: string) =>
      (
        JSON.parse((await yundro(['size', stageFile, '--json', '--objective', objective])).out) as {
          figures: { loss: number; area: number };
        }
      ).figures;
    const [small, cool] = [await figures('size'), await figures('efficiency')];
    expect(small.area).toBeLessThan(cool.area);
    expect(cool.loss).toBeLessThan(small.loss);
    expect((await yundro(['size', stageFile, '--objective', 'beauty'])).err).toMatch(
      /balanced, efficiency, size or cost/,
    );
  });
});

describe('steady-state', () => {
  test('a fixed duty and a resistive load, as independent SPICE case A05 has them', async () => {
    const boost = {
      format: 'yundro-stage',
      version: 1,
      topology: 'boost',
      switchingFrequency: 300e3,
      targets: { inputVoltage: { min: 5, max: 5 }, outputVoltage: 12, outputCurrent: { max: 1 } },
      parts: {
        inductor: { inductance: 10e-6, resistance: 0.02 },
        outputCapacitors: [{ capacitance: 47e-6, esr: 0.005 }],
        highSide: { onResistance: 0.015 },
        lowSide: { onResistance: 0.012 },
      },
    };
    const csv = join(folder, 'traces.csv');
    const { code, out } = await yundro(
      ['steady-state', '-', '--vin', '5', '--rload', '12', '--duty', '0.6', '--csv', csv, '--json'],
      JSON.stringify(boost),
    );
    expect(code).toBe(0);
    const { operatingPoint, solver } = JSON.parse(out) as { operatingPoint: unknown; solver: { iterations: number } };
    const point = operatingPointSchema.parse(operatingPoint);
    expect(solver.iterations).toBeLessThan(5);
    // V = Vin/(1−D) less the drops: R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 3.
    const drops = 0.02 + 0.6 * 0.012 + 0.4 * 0.015;
    expect(point.outputVoltage).toBeCloseTo(5 / 0.4 / (1 + drops / (0.16 * 12)), 1);
    const [heading, ...rows] = readFileSync(csv, 'utf8').trim().split('\n');
    expect(heading).toBe('time,i(inductor1),v(switch node),v(output)');
    expect(rows.length).toBeGreaterThan(30);
  });
  test('a constant-power load draws its power at the output voltage', async () => {
    const { out } = await yundro(['steady-state', await sizedFile(), '--pload', '48', '--json']);
    const point = operatingPointSchema.parse((JSON.parse(out) as { operatingPoint: unknown }).operatingPoint);
    expect(point.outputPower).toBeCloseTo(48, 2);
    expect(point.outputCurrent).toBeCloseTo(48 / Math.abs(point.outputVoltage), 6);
  });
  test('a target out of reach is a reason with the highest output, not a number', async () => {
    const steep = {
      ...bare,
      topology: 'boost',
      targets: { ...targets, outputVoltage: 400 },
      parts: {
        inductor: { inductance: 1e-4, resistance: 2 },
        outputCapacitors: [{ capacitance: 1e-4 }],
        highSide: { onResistance: 0.1 },
        lowSide: { onResistance: 0.1 },
      },
    };
    const { code, out } = await yundro(
      ['steady-state', '-', '--vin', '20', '--iout', '1', '--json'],
      JSON.stringify(steep),
    );
    const { operatingPoint, highestOutput, reason } = JSON.parse(out) as Record<string, unknown>;
    expect([code, operatingPoint]).toEqual([0, null]);
    expect(highestOutput).toBeGreaterThan(20);
    expect(reason).toMatch(/out of reach: the highest is/);
  });
  test.each<[readonly string[], RegExp]>([
    [['--vin', 'ten'], /--vin: “ten” cannot be read/],
    [['--vin=-5'], /--vin is -5.V, but must be above 0/],
    [['--duty', '2'], /--duty is 2, but must be above 0 and at most 1/],
    [['--iout', '1', '--rload', '2'], /not as several/],
    [['--iout', '1', '--pload', '2'], /not as several/],
  ])('bad options %j', async (options, expected) => {
    const { code, err } = await yundro(['steady-state', await sizedFile(), ...options]);
    expect(code).toBe(2);
    expect(err).toMatch(expected);
  });
});

describe('phases', () => {
  test('weighs numbers of phases, coupling and shedding, and says the same in JSON', async () => {
    const twoPhases = file(
      'twoPhases.json',
      JSON.stringify({
        format: 'yundro-stage',
        version: 1,
        topology: 'buck',
        phases: 2,
        switchingFrequency: 500e3,
        targets: {
          inputVoltage: { min: 10.8, max: 13.2 },
          outputVoltage: 1.8,
          outputCurrent: { min: 2, max: 30 },
          inductorRippleRatio: 0.4,
        },
        parts: {
          inductor: { inductance: 680e-9, resistance: 2e-3 },
          outputCapacitors: [{ capacitance: 500e-6, esr: 1e-3 }],
          inputCapacitors: [{ capacitance: 100e-6, esr: 1e-3 }],
          highSide: { onResistance: 6e-3 },
          lowSide: { onResistance: 3e-3 },
        },
      }),
    );
    const text = await yundro(['phases', twoPhases, '--most', '3']);
    expect(text.code).toBe(0);
    expect(text.out).toMatch(/\d phases?: [\d.]+.W lost/);
    expect(text.out).toMatch(/Not worth it here: no load step is asked for/);
    expect(text.out).toMatch(/phases at work|The same number/);
    const json = JSON.parse((await yundro(['phases', twoPhases, '--most', '3', '--json'])).out) as Record<
      string,
      unknown
    >;
    expect(json['counts']).toHaveLength(3);
    expect(json).toMatchObject({ steps: [], coupling: { windings: 2, worth: false } });
    const refused = await yundro(['phases', twoPhases, '--most', '20']);
    expect(refused.code).toBe(2);
    expect(refused.err).toMatch(/--most is 20.*at most 12/);
  });
});

describe('bad input: one sentence on standard error and exit code 2', () => {
  test.each<[string, string, RegExp]>([
    ['unknown key', JSON.stringify({ ...bare, colour: 1 }), /^At colour: /],
    [
      'negative inductance',
      JSON.stringify({ ...bare, parts: { inductor: { inductance: -1e-6 } } }),
      /^At parts\.inductor\.inductance: .*-1\u2009µH/,
    ],
    [
      'min above max',
      JSON.stringify({ ...bare, targets: { ...targets, inputVoltage: { min: 30, max: 29 } } }),
      /^At targets\.inputVoltage\.min: /,
    ],
    ['text for a number', JSON.stringify({ ...bare, switchingFrequency: 'fast' }), /^At switchingFrequency: .*“fast”/],
    ['2 MB of zeros', '0'.repeat(2e6), /^At the top level: the file is 2\.0 MB/],
    ['2 MB of zero bytes', '\0'.repeat(2e6), /^At the top level: the file is 2\.0 MB/],
    ['truncated JSON', JSON.stringify(bare).slice(0, 100), /^At the top level: .*ends in the middle/],
  ])('%s', async (name, content, expected) => {
    const { code, out, err } = await yundro(['size', file(`${name}.json`, content)]);
    expect([code, out]).toEqual([2, '']);
    expect(err).toMatch(expected);
    expect(err.trimEnd().split('\n')).toHaveLength(1);
  });
  test.each<[readonly string[], RegExp]>([
    [['size', join(folder, 'nothing.json')], /no such file/],
    [['size'], /Name the stage file/],
    [['size', '--colour', stageFile], /--json, --output/],
    [['paint', stageFile], /There is no command “paint”/],
    [['toString'], /There is no command/],
    [['evaluate', stageFile], /^At parts\.inductor: the inductor is missing/],
    [['size', stageFile, '--output', join(folder, 'no', 'folder.json')], /^Cannot write/],
  ])('yundro %j', async (words, expected) => {
    const { code, err } = await yundro(words);
    expect(code).toBe(2);
    expect(err).toMatch(expected);
  });
});

describe('loop', () => {
  const sized = join(folder, 'loop.json');
  test('size proposes a compensation, and loop reports it in the fields of the stage file format', async () => {
    const goals = { ...targets, phaseMargin: 50, gainMargin: 8 };
    const { code } = await yundro([
      'size',
      file('goals.json', JSON.stringify({ ...bare, targets: goals })),
      '--output',
      sized,
    ]);
    expect(code).toBe(0);
    const csv = join(folder, 'loop.csv');
    const words = [
      'loop',
      sized,
      '--vin',
      '24',
      '--iout',
      '4',
      '--frequencies',
      '1k,20k,150e3',
      '--csv',
      csv,
      '--json',
    ];
    const report = JSON.parse((await yundro(words)).out) as {
      crossoverFrequency: number;
      phaseMargin: number;
      stable: boolean;
      floquetMultipliers: { re: number; im: number }[];
      outputImpedancePeak: number;
      points: { frequency: number; loop: { db: number; degrees: number } }[];
    };
    expect(report.phaseMargin).toBeGreaterThan(50);
    expect(report.crossoverFrequency).toBeGreaterThan(20e3);
    expect(report.stable).toBe(true);
    expect(report.floquetMultipliers.every(({ re, im }) => Math.hypot(re, im) < 1)).toBe(true);
    expect(report.points.map(({ frequency }) => frequency)).toEqual([1e3, 20e3, 150e3]);
    expect(report.points[0]?.loop.db).toBeGreaterThan(report.points[2]?.loop.db ?? NaN);
    expect(readFileSync(csv, 'utf8').split('\n')).toHaveLength(5);
    const text = (await yundro(['loop', sized])).out;
    expect(text).toMatch(/phase margin +\d+\.\d°/);
    const { verdicts } = evaluationIn((await yundro(['evaluate', sized, '--json'])).out);
    const ofLoop = verdicts.filter(({ figure }) => figure === 'loop');
    expect(ofLoop.length).toBeGreaterThanOrEqual(3);
    expect(ofLoop.filter(({ pass }) => !pass)).toEqual([]);
  });
  test('a stage without a compensator says what it lacks; a frequency that is none is refused', async () => {
    const open = join(folder, 'open.json');
    writeFileSync(
      open,
      JSON.stringify({ ...(JSON.parse(readFileSync(sized, 'utf8')) as object), control: { scheme: 'open-loop' } }),
    );
    expect((await yundro(['loop', open])).out).toMatch(/No loop: the stage runs open loop/);
    const refused = await yundro(['loop', sized, '--frequencies', '1k,-3']);
    expect(refused.code).toBe(2);
    expect(refused.err).toMatch(/above 0 Hz/);
  });
});

describe('simulate', () => {
  const worked = JSON.parse(
    readFileSync(new URL('../../core/validation/transientCases.json', import.meta.url), 'utf8'),
  ) as {
    readonly cases: readonly {
      readonly id: string;
      readonly command: readonly (string | number)[];
      readonly stage: object;
      readonly expect: readonly (readonly [string, number, number])[];
    }[];
  };
  test.each(worked.cases.map((one) => [one.id, one] as const))(
    '%s, worked by two independent methods, by the words of its command',
    async (_, { command, stage, expect: figures }) => {
      const [name = '', ...options] = command.map(String);
      const { code, out } = await yundro([name, '-', ...options, '--json'], JSON.stringify(stage));
      expect(code).toBe(0);
      const found = JSON.parse(out) as Record<string, number>;
      for (const [figure, value, tolerance] of figures)
        expect(Math.abs((found[figure] ?? NaN) / value - 1)).toBeLessThan(tolerance);
    },
  );
  test('in words, with waveforms as CSV; and what cannot be asked is refused in a sentence', async () => {
    const [first] = worked.cases;
    const stage = JSON.stringify(first?.stage);
    const file = join(folder, 'waveforms.csv');
    const run = await yundro(['simulate', '-', '--step', '1', '--cycles', '20', '--csv', file], stage);
    expect(run.code).toBe(0);
    expect(run.out).toMatch(/undershoot +\d/);
    expect(readFileSync(file, 'utf8').split('\n').length).toBeGreaterThan(20 * 32);
    for (const [words, says] of [
      [['--nono', '1'], /Unknown option '--nono'/],
      [['--scenario', 'storm'], /--scenario is start-up, load-step, line-step or short-circuit/],
      [['--scenario', 'line-step'], /needs --step/],
      [['--scenario', 'line-step', '--vin', '10', '--step', '-12'], /zero or below/],
      [['--cycles', '0'], /--cycles/],
      [[], /states no load step/],
    ] as const) {
      const { code, err } = await yundro(['simulate', '-', ...words], stage);
      expect(code).toBe(2);
      expect(err).toMatch(says);
    }
  });
});
