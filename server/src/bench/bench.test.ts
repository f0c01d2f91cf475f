import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { setTimeout as wait } from 'node:timers/promises';
import {
  USUAL_INSTRUMENTS,
  type Addresses,
  type BenchRun,
  type BenchRunRow,
  type Measuring,
  type StartRun,
} from '@yundro/core';
import { plainBoard, plainInstrument, type PlainInstrument } from '../../testing/plainInstrument.js';
import { testApp, type TestApp } from '../../testing/testApp.js';
import { benchBuck } from '../../testing/benchStage.js';
import { addressOf } from './address.js';
import { BenchStore } from './benchStore.js';
import { calledInstruments } from './drivers.js';
import { InstrumentLine } from './line.js';

let app: TestApp;
let stageId: string;
beforeAll(async () => {
  app = await testApp();
  const project = await app.store.createProject('Bench', [benchBuck]);
  const [found] = (await app.store.shelf()).filter(({ id }) => id === project);
  stageId = found?.stages[0]?.id ?? '';
}, 120_000);
afterAll(() => app.close());

type Over = Partial<Omit<StartRun, 'asked'>>;
const entered = (over: Over = {}): BenchRun => ({
  kind: 'efficiency',
  title: 'Efficiency',
  serial: 'B-7',
  date: '2026-11-30T12:00:00.000Z',
  ambient: 23,
  notes: '',
  instruments: USUAL_INSTRUMENTS,
  points: [0.5, 1, 2].map((outputCurrent) => ({ inputVoltage: 12, outputCurrent })),
  readings: [],
  captures: [],
  pictures: [],
  state: 'entered',
  problem: null,
  ...over,
});
const asked = (addresses: Addresses, over: Over = {}, how: Partial<Measuring> = {}): StartRun => ({
  ...entered(over),
  asked: { addresses, supplyLimit: 5, settling: 0.01, ...how },
});
const measure = (run: StartRun) => app.api.post(`/api/stages/${stageId}/measure`).send(run);
const runNow = async (id: string): Promise<BenchRunRow> => (await app.api.get(`/api/runs/${id}`)).body as BenchRunRow;
async function until(id: string, done: (row: BenchRunRow) => boolean): Promise<BenchRunRow> {
  for (let k = 0; k < 1200; k += 1) {
    const row = await runNow(id);
    if (done(row)) return row;
    await wait(25);
  }
  throw new Error(`The run stands at ${JSON.stringify((await runNow(id)).run).slice(0, 400)}`);
}
const over = ({ run }: BenchRunRow): boolean => run.state !== 'running' && run.state !== 'paused';

describe('the simulated instruments over a socket', () => {
  test('a run of efficiency: every point read, and what the board is shows in it', async () => {
    const instruments = { ...USUAL_INSTRUMENTS, analyser: { from: 10, to: 1e6 } };
    const made = await app.api.post(`/api/stages/${stageId}/stand-ins`).send({ seed: 4, instruments });
    expect(made.status).toBe(201);
    const { addresses } = (made.body as { standIns: { addresses: Addresses } }).standIns;
    expect(Object.keys(addresses).sort()).toEqual(['analyser', 'load', 'meter', 'oscilloscope', 'supply']);
    const started = await measure(asked(addresses));
    expect(started.status).toBe(201);
    const { run } = await until((started.body as BenchRunRow).id, over);
    expect(run.problem).toBeNull();
    expect(run.state).toBe('done');
    expect(run.readings).toHaveLength(3);
    run.readings.forEach((reading, k) => {
      const { inputVoltage = 0, inputCurrent = 0, outputVoltage = 0, outputCurrent = 0, supplyVoltage = 0 } = reading;
      expect(Math.abs(outputCurrent - ([0.5, 1, 2][k] ?? NaN))).toBeLessThan(0.01);
      expect(Math.abs(outputVoltage - 7.5)).toBeLessThan(0.2);
      // The lead drops something, and the board wastes something.
      expect(supplyVoltage - inputVoltage).toBeGreaterThan(0);
      const efficiency = (outputVoltage * outputCurrent) / (inputVoltage * inputCurrent);
      expect(efficiency).toBeGreaterThan(0.85);
      expect(efficiency).toBeLessThan(1);
    });
  }, 60_000);

  test('a load step and a loop are captured', async () => {
    const { addresses } = app.bench.standIns().standIns ?? { addresses: { supply: '', load: '' } };
    const points = [{ inputVoltage: 12, outputCurrent: 3 }];
    const step = await measure(asked(addresses, { kind: 'load-step', points }, { step: { from: 1, to: 3 } }));
    const stepped = await until((step.body as BenchRunRow).id, over);
    expect(stepped.run.problem).toBeNull();
    const output = stepped.run.captures[0]?.columns.find(({ name }) => name === 'output voltage')?.values ?? [];
    expect(output).toHaveLength(2000);
    expect(Math.min(...output)).toBeLessThan(7.45);
    const loop = await measure(asked(addresses, { kind: 'loop', points: [{ inputVoltage: 12, outputCurrent: 2 }] }));
    const swept = await until((loop.body as BenchRunRow).id, over);
    expect(swept.run.problem).toBeNull();
    const gain = swept.run.captures[0]?.columns[0]?.values ?? [];
    expect(gain).toHaveLength(40);
    expect(gain[0]).toBeGreaterThan(0);
    expect(gain.at(-1)).toBeLessThan(0);
  }, 60_000);

  test('what is out of range is refused by name, and an unknown command too', async () => {
    const { addresses } = app.bench.standIns().standIns ?? { addresses: { supply: '', load: '' } };
    const address = addressOf(addresses.supply, []);
    if (typeof address === 'string') throw new Error(address);
    const line = await InstrumentLine.to('The supply', address);
    expect(await line.ask('*IDN?')).toMatch(/^Yundro,simulated supply/);
    await expect(line.tell('VOLTage 31')).rejects.toThrow('The supply refuses “VOLTage 31”: -222,"Data out of range".');
    await expect(line.tell('VOLTS 3')).rejects.toThrow('-113');
    await expect(line.tell('OUTPut MAYBE')).rejects.toThrow('-104');
    expect(await line.number('VOLT?')).toBe(12);
    line.close();
  });
});

describe('a second stand-in, written independently', () => {
  const board = plainBoard();
  const there: Partial<Record<'supply' | 'load' | 'meter' | 'oscilloscope', PlainInstrument>> = {};
  const at = (): Addresses => {
    const of = (role: keyof typeof there): string => `127.0.0.1:${String(there[role]?.port)}`;
    return { supply: of('supply'), load: of('load'), meter: of('meter'), oscilloscope: of('oscilloscope') };
  };
  beforeAll(async () => {
    for (const role of ['supply', 'load', 'meter', 'oscilloscope'] as const)
      there[role] = await plainInstrument(role, board);
  });
  afterAll(async () => {
    for (const one of Object.values(there)) await one.pull();
  });

  test('the same drivers read it, whole answers and pieces alike', async () => {
    const bench = await calledInstruments(at(), []);
    await bench.supply.set(12, 3);
    await bench.supply.on();
    await bench.load.draw(1.5);
    await bench.load.on();
    expect(board).toEqual({ volts: 12, limit: 3, on: true, amps: 1.5, drawing: true });
    expect(await bench.supply.voltage()).toBe(12);
    expect(Math.abs((await bench.supply.current()) - (7.5 / 0.9 / 12 + 0.01))).toBeLessThan(1e-4);
    expect(await bench.supply.limits()).toBe(false);
    expect(await bench.meter?.channels()).toEqual(['inputVoltage', 'outputVoltage']);
    expect(await bench.meter?.read('outputVoltage')).toBe(5.0001);
    const taken = await bench.oscilloscope?.capture('ripple', ['output voltage'], 'CLOCk');
    expect(taken?.columns[0]?.values).toEqual(Array.from({ length: 10 }, (_, k) => k / 8));
    expect(taken?.x[1]).toBeCloseTo(-9e-7, 12);
    await bench.load.off();
    await bench.supply.off();
    bench.close();
  });

  test('a run goes through, and everything is off at its end', async () => {
    const started = await measure(asked(at()));
    const { run } = await until((started.body as BenchRunRow).id, over);
    expect([run.state, run.problem]).toEqual(['done', null]);
    expect(run.readings.map(({ outputVoltage }) => outputVoltage)).toEqual([5.0001, 5.0001, 5.0001]);
    expect([board.on, board.drawing]).toEqual([false, false]);
  }, 30_000);
});

describe('an instrument lost in mid-sweep', () => {
  const board = plainBoard();
  let there: PlainInstrument[] = [];
  const three = async (): Promise<Addresses> => {
    there = [
      await plainInstrument('supply', board),
      await plainInstrument('load', board),
      await plainInstrument('meter', board),
    ];
    const [supply = '', load = '', meter = ''] = there.map(({ port }) => `127.0.0.1:${String(port)}`);
    return { supply, load, meter };
  };
  afterEach(async () => {
    for (const one of there) await one.pull().catch(() => undefined);
  });
  /** A run of many points, so many of them read. */
  const begun = async (addresses: Addresses, read: number): Promise<string> => {
    const started = await measure(asked(addresses, long, { settling: 0.05 }));
    const { id } = started.body as BenchRunRow;
    await until(id, ({ run }) => run.readings.length >= read);
    return id;
  };
  const long = { points: Array.from({ length: 12 }, (_, k) => ({ inputVoltage: 12, outputCurrent: (k + 1) / 10 })) };

  test('the output is off, every reading is kept, and the run is taken up where it was', async () => {
    const addresses = await three();
    const id = await begun(addresses, 3);
    expect(board.on).toBe(true);
    await there[2]?.pull();
    const lost = await until(id, over);
    expect(lost.run.state).toBe('lost');
    expect(lost.run.problem).toMatch(/^The meter /);
    expect(lost.run.problem).toContain('What had been read is kept');
    expect([board.on, board.drawing]).toEqual([false, false]);
    const kept = lost.run.readings;
    expect(kept.length).toBeGreaterThanOrEqual(3);
    expect(kept.length).toBeLessThan(12);
    // Another meter is brought.
    const other = await plainInstrument('meter', board);
    there = [...there.slice(0, 2), other];
    const resumed = await app.api
      .post(`/api/runs/${id}/resume`)
      .send({ addresses: { ...addresses, meter: `127.0.0.1:${String(other.port)}` } });
    expect(resumed.status).toBe(204);
    const { run } = await until(id, over);
    expect([run.state, run.problem]).toEqual(['done', null]);
    expect(run.readings).toHaveLength(12);
    expect(run.readings.slice(0, kept.length)).toEqual(kept);
    run.readings.forEach(({ outputCurrent = 0 }, k) => expect(outputCurrent).toBeCloseTo((k + 1) / 10, 6));
  }, 60_000);

  test('of two runs that are asked for at the same time one is refused', async () => {
    const addresses = await three();
    const both = await Promise.all([measure(asked(addresses)), measure(asked(addresses))]);
    expect(both.map(({ status }) => status).sort()).toEqual([201, 409]);
    const made = both.find(({ status }) => status === 201)?.body as BenchRunRow;
    expect((await until(made.id, over)).run.state).toBe('done');
  });

  test('a supply that is lost is called again to be switched off', async () => {
    const addresses = await three();
    const id = await begun(addresses, 2);
    const port = there[0]?.port ?? 0;
    await there[0]?.pull();
    // The plug is in again a moment later, the output still on.
    there = [await plainInstrument('supply', board, port), ...there.slice(1)];
    const { run } = await until(id, over);
    expect(run.state).toBe('lost');
    expect(run.problem).not.toContain('by hand');
    expect([board.on, board.drawing]).toEqual([false, false]);
  }, 60_000);

  test('a supply that stays lost is told of: by hand', async () => {
    const addresses = await three();
    const id = await begun(addresses, 2);
    await there[0]?.pull();
    const { run } = await until(id, over);
    expect(run.problem).toContain('Switch it off by hand before you touch the board.');
    expect(board.drawing).toBe(false);
  }, 60_000);

  test('a run is paused with nothing under power, goes on, and is ended; two at a time are refused', async () => {
    const addresses = await three();
    const id = await begun(addresses, 1);
    const second = await measure(asked(addresses));
    expect([second.status, (second.body as { type: string }).type]).toEqual([409, '/problems/bench-busy']);
    // Nor is what its instruments write overwritten by a page.
    const present = await runNow(id);
    const put = await app.api
      .put(`/api/runs/${id}`)
      .send({ revision: present.revision, run: entered({ notes: 'mine' }) });
    expect([put.status, (put.body as { type: string }).type]).toEqual([409, '/problems/bench-busy']);
    await app.api.post(`/api/runs/${id}/pause`);
    await until(id, ({ run }) => run.state === 'paused');
    expect([board.on, board.drawing]).toEqual([false, false]);
    const before = (await runNow(id)).run.readings.length;
    await wait(300);
    expect((await runNow(id)).run.readings).toHaveLength(before);
    await app.api.post(`/api/runs/${id}/resume`).send({});
    await until(id, ({ run }) => run.readings.length > before);
    await app.api.post(`/api/runs/${id}/abort`);
    const { run } = await runNow(id);
    expect(run.state).toBe('aborted');
    expect([board.on, board.drawing]).toEqual([false, false]);
  }, 60_000);
});

describe('who is spoken to', () => {
  test.each([
    ['127.0.0.1:5025', { host: '127.0.0.1', port: 5025 }],
    ['[::1]:5025', { host: '::1', port: 5025 }],
    ['localhost:1', { host: 'localhost', port: 1 }],
  ])('%s is this machine', (text, address) => {
    expect(addressOf(text, [])).toEqual(address);
  });
  test('others only where the server was started with them; nonsense is said to be none', () => {
    expect(addressOf('192.0.2.7:5025', [])).toContain('INSTRUMENT_HOSTS');
    expect(addressOf('192.0.2.7:5025', ['192.0.2.7'])).toEqual({ host: '192.0.2.7', port: 5025 });
    for (const text of ['supply', '127.0.0.1', '127.0.0.1:70000', '127.0.0.1:0', '127.0.0.1.evil.example:80']) {
      const found = addressOf(text, []);
      expect(typeof found).toBe('string');
    }
  });
  test.each([
    ['loop', 'response analyser'],
    ['load-step', 'oscilloscope'],
    ['ripple', 'oscilloscope'],
  ] as const)('a %s without its %s is refused before anything is spoken to', async (kind, instrument) => {
    const refused = await measure(asked({ supply: '127.0.0.1:1', load: '127.0.0.1:1' }, { kind }));
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      400,
      expect.stringContaining(instrument),
    ]);
  });

  test('a run with a foreign address is refused before anything is spoken to', async () => {
    const refused = await measure(asked({ supply: '192.0.2.7:5025', load: '127.0.0.1:1' }));
    expect([refused.status, (refused.body as { type: string }).type]).toEqual([400, '/problems/invalid-request']);
  });
  test('an instrument that says nothing is not waited for for ever', async () => {
    const mute = await plainInstrument('supply', plainBoard());
    const line = await InstrumentLine.to('The supply', { host: '127.0.0.1', port: mute.port });
    // A line that is told without a question has no answer.
    await expect(line.ask('*CLS', 200)).rejects.toThrow('has not answered “*CLS” within 0.2 s');
    await mute.pull();
  });
});

describe('the log', () => {
  test('a run entered by hand is kept, saved from its revision, deleted and brought back', async () => {
    const run = entered({ kind: 'log', readings: [{ inputVoltage: 12, outputVoltage: 7.5 }] });
    const made = await app.api.post(`/api/stages/${stageId}/runs`).send(run);
    expect(made.status).toBe(201);
    const row = made.body as BenchRunRow;
    const noted = { ...run, notes: 'the fan was on' };
    const saved = await app.api.put(`/api/runs/${row.id}`).send({ revision: row.revision, run: noted });
    expect((saved.body as BenchRunRow).run.notes).toBe('the fan was on');
    const late = await app.api
      .put(`/api/runs/${row.id}`)
      .send({ revision: row.revision, run: { ...run, notes: 'other' } });
    expect(late.status).toBe(409);
    expect((late.body as { current: BenchRunRow }).current.run.notes).toBe('the fan was on');
    expect((await app.api.delete(`/api/runs/${row.id}`)).status).toBe(204);
    expect((await app.api.get(`/api/runs/${row.id}`)).status).toBe(404);
    await app.api.post(`/api/runs/${row.id}/restore`);
    expect((await runNow(row.id)).run.notes).toBe('the fan was on');
    const listed = await app.api.get(`/api/stages/${stageId}/runs`);
    expect((listed.body as { runs: BenchRunRow[] }).runs[0]?.id).toBe(row.id);
  });

  test('a run of some thousand lines and a picture is kept; a picture that is none is refused', async () => {
    const readings = Array.from({ length: 5_000 }, (_, k) => ({
      inputVoltage: 12 + k / 1e4,
      inputCurrent: 1.2345,
      outputVoltage: 7.4999,
      outputCurrent: k / 1000,
      outputRipple: 0.01234,
      note: 'a line with a remark',
    }));
    const picture = { name: 'screen.png', data: `data:image/png;base64,${'A'.repeat(300_000)}` };
    const run = entered({ kind: 'log', readings, pictures: [picture] });
    expect(JSON.stringify(run).length).toBeGreaterThan(1e6);
    expect((await app.api.post(`/api/stages/${stageId}/runs`).send(run)).status).toBe(201);
    const script = entered({ pictures: [{ name: 'x', data: 'data:text/html;base64,PHNjcmlwdD4=' }] });
    expect((await app.api.post(`/api/stages/${stageId}/runs`).send(script)).status).toBe(400);
    const huge = { ...run, notes: 'x'.repeat(5_000_000) };
    const refused = await app.api.post(`/api/stages/${stageId}/runs`).send(huge);
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      413,
      'A request may hold at most 4 MB.',
    ]);
  });

  test('no run is under way because a page says so', async () => {
    const refused = await app.api.post(`/api/stages/${stageId}/runs`).send(entered({ state: 'running' }));
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      400,
      'A run is under way only while its instruments measure.',
    ]);
  });
});

describe('a run that nobody attends to any more', () => {
  const board = plainBoard();
  let there: PlainInstrument[] = [];
  afterEach(async () => {
    for (const one of there) await one.pull().catch(() => undefined);
  });

  test('is shown as lost, and taken up from its last reading with what it was asked for', async () => {
    there = [await plainInstrument('supply', board), await plainInstrument('load', board)];
    const [supply = '', load = ''] = there.map(({ port }) => `127.0.0.1:${String(port)}`);
    const left: StartRun = {
      ...asked({ supply, load }),
      state: 'running',
      readings: [{ inputVoltage: 12, outputCurrent: 0.5 }],
    };
    // As a server that ended had left it.
    const { id } = await new BenchStore(app.database).create(stageId, left);
    const shown = await runNow(id);
    expect(shown.run.state).toBe('lost');
    expect(shown.run.problem).toContain('see to it that supply and load are off');
    expect((await app.api.post(`/api/runs/${id}/resume`).send({})).status).toBe(204);
    const { run } = await until(id, over);
    expect([run.state, run.problem]).toEqual(['done', null]);
    expect(run.readings.map(({ outputCurrent }) => outputCurrent)).toEqual([0.5, 1, 2]);
  });

  test('a run that ends while its row is on its way is shown as it ended, not as lost', async () => {
    there = [await plainInstrument('supply', board), await plainInstrument('load', board)];
    const [supply = '', load = ''] = there.map(({ port }) => `127.0.0.1:${String(port)}`);
    const started = await measure(asked({ supply, load }));
    const row = started.body as BenchRunRow;
    expect(row.run.state).toBe('running');
    await until(row.id, over);
    const shown = await app.bench.present(row);
    expect([shown.run.state, shown.run.problem, shown.run.readings.length]).toEqual(['done', null, 3]);
  });

  test('a run entered by hand has no instruments to be taken up with', async () => {
    const made = await app.api.post(`/api/stages/${stageId}/runs`).send(entered({ state: 'lost' }));
    const refused = await app.api.post(`/api/runs/${(made.body as BenchRunRow).id}/resume`).send({});
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      400,
      'The run was entered by hand: there are no instruments to take it up with.',
    ]);
  });
});
