import { afterEach, describe, expect, test } from '@jest/globals';
import { expose } from 'comlink';
import { SurveyPool } from './surveyPool';
import { WorkerFailure, WorkerLine, type WorkerLike } from './workerLine';

const api = {
  twice: (value: number) => 2 * value,
  never: () => new Promise<number>(() => undefined),
  broken: (): number => {
    throw new Error('singular');
  },
};
type Api = typeof api;

/** A worker without a browser: the other end of a channel, which can be made to fail. */
class FakeWorker extends EventTarget implements WorkerLike {
  readonly channel = new MessageChannel();
  terminated = false;
  constructor() {
    super();
    expose(api, this.channel.port1);
    this.channel.port2.onmessage = (event) =>
      this.dispatchEvent(new MessageEvent('message', { data: event.data as unknown }));
  }
  postMessage(message: unknown, transfer?: unknown): void {
    this.channel.port2.postMessage(message, (Array.isArray(transfer) ? transfer : []) as never);
  }
  terminate(): void {
    this.terminated = true;
    this.channel.port1.close();
    this.channel.port2.close();
  }
}

const made: FakeWorker[] = [];
const start = (): FakeWorker => {
  const worker = new FakeWorker();
  made.push(worker);
  return worker;
};
afterEach(() => {
  for (const worker of made.splice(0)) worker.terminate();
});

describe('a line to a worker', () => {
  test('carries a question and its answer', async () => {
    const line = new WorkerLine<Api>(start());
    expect(await line.ask((remote) => remote.twice(21))).toBe(42);
  });
  test('what the question throws in the worker is its failure, with its own words', async () => {
    const line = new WorkerLine<Api>(start());
    await expect(line.ask((remote) => remote.broken())).rejects.toThrow('singular');
    expect(await line.ask((remote) => remote.twice(2))).toBe(4);
  });
  test('a worker that could not be started answers nobody, and says so', async () => {
    const worker = start();
    const line = new WorkerLine<Api>(worker);
    const asked = line.ask((remote) => remote.never());
    worker.dispatchEvent(new Event('error'));
    await expect(asked).rejects.toThrow(WorkerFailure);
    await expect(line.ask((remote) => remote.never())).rejects.toThrow('could not be started');
  });
  test('nothing waits for ever', async () => {
    const line = new WorkerLine<Api>(start());
    await expect(line.ask((remote) => remote.never(), 30)).rejects.toThrow('it gave no answer within');
  });
  test('what says now and then that it is at work may take as long as it likes', async () => {
    const line = new WorkerLine<Api>(start());
    const asked = line.ask(async (remote, alive) => {
      for (let sign = 0; sign < 8; sign += 1) {
        await new Promise((resolve) => setTimeout(resolve, 20));
        alive();
      }
      return remote.twice(21);
    }, 60);
    expect(await asked).toBe(42);
  });
  test('ending it tells whoever waits', async () => {
    const worker = start();
    const line = new WorkerLine<Api>(worker);
    const asked = line.ask((remote) => remote.never());
    line.end();
    await expect(asked).rejects.toThrow('it was ended');
    expect(worker.terminated).toBe(true);
  });
});

describe('workers for long questions', () => {
  const ask = (survey: unknown, value: number): Promise<number> =>
    (survey as { twice: (value: number) => Promise<number> }).twice(value);
  const hang = (survey: unknown): Promise<number> => (survey as { never: () => Promise<number> }).never();
  const breakDown = (survey: unknown): Promise<number> => (survey as { broken: () => Promise<number> }).broken();

  test('one that has answered takes the next question', async () => {
    const pool = new SurveyPool(start);
    expect(await pool.begin(3, ask).result).toBe(6);
    expect(await pool.begin(4, ask).result).toBe(8);
    expect(made).toHaveLength(1);
  });
  test('giving a question up ends its worker in the middle of its work', async () => {
    const pool = new SurveyPool(start);
    const running = pool.begin(1, hang);
    running.result.catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 20));
    running.stop();
    expect(made[0]?.terminated).toBe(true);
  });
  test('one that failed takes no further question', async () => {
    const pool = new SurveyPool(start);
    await expect(pool.begin(1, breakDown).result).rejects.toThrow('singular');
    expect(made[0]?.terminated).toBe(true);
    expect(await pool.begin(5, ask).result).toBe(10);
    expect(made).toHaveLength(2);
  });
  test('one that could not be started is started again, and told of only when that fails too', async () => {
    let starts = 0;
    const failing = new SurveyPool(
      () => {
        starts += 1;
        const worker = start();
        if (starts < 3) setTimeout(() => worker.dispatchEvent(new Event('error')), 0);
        return worker;
      },
      () => 0,
      5,
    );
    expect(
      await failing.begin(7, (survey, value: number) => (starts < 3 ? hang(survey) : ask(survey, value))).result,
    ).toBe(14);
    const never = new SurveyPool(
      () => {
        const worker = start();
        setTimeout(() => worker.dispatchEvent(new Event('error')), 0);
        return worker;
      },
      () => 0,
      5,
    );
    await expect(never.begin(7, hang).result).rejects.toThrow('could not be started');
  });
  test('a question given up before its turn starts no worker', async () => {
    const pool = new SurveyPool(start, () => 20);
    pool.begin(1, ask).stop();
    await new Promise((resolve) => setTimeout(resolve, 40));
    expect(made).toHaveLength(0);
  });
});
