import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { Inquiry, isStale, sameQuestion, type Running } from './inquiry';

interface Question {
  readonly stage: object;
  readonly corner: number;
}
/** Work that the test ends. */
interface Work extends Running<string> {
  readonly question: Question;
  readonly answer: (value: string) => void;
  readonly fail: (error: Error) => void;
  readonly stopped: () => boolean;
}

const works: Work[] = [];
const begin = (question: Question): Running<string> => {
  let stopped = false;
  let answer: (value: string) => void = () => undefined;
  let fail: (error: Error) => void = () => undefined;
  const result = new Promise<string>((resolve, reject) => {
    answer = resolve;
    fail = reject;
  });
  const work: Work = { question, result, stop: () => (stopped = true), answer, fail, stopped: () => stopped };
  works.push(work);
  return work;
};
const settled = () => new Promise((resolve) => setTimeout(resolve, 0));
const stage = { name: 'one' };

beforeEach(() => {
  works.length = 0;
});

describe('an answer carries its question', () => {
  test('and is stale as soon as another question holds', async () => {
    const inquiry = new Inquiry<Question, string>(begin);
    inquiry.put({ stage, corner: 1 });
    expect(inquiry.state()).toMatchObject({ working: true, answer: undefined });
    works[0]?.answer('of corner 1');
    await settled();
    expect(inquiry.state()).toMatchObject({
      working: false,
      answer: { question: { corner: 1 }, value: 'of corner 1' },
    });
    expect(isStale(inquiry.state())).toBe(false);
    inquiry.put({ stage, corner: 2 });
    expect(inquiry.state()).toMatchObject({ working: true, answer: { question: { corner: 1 } } });
    expect(isStale(inquiry.state())).toBe(true);
    works[1]?.answer('of corner 2');
    await settled();
    expect(inquiry.state().answer).toMatchObject({ question: { corner: 2 }, value: 'of corner 2' });
  });
  test('an answer that comes late is nobody’s: the work of an overtaken question is ended and what it says dropped', async () => {
    const inquiry = new Inquiry<Question, string>(begin);
    inquiry.put({ stage, corner: 1 });
    inquiry.put({ stage, corner: 2 });
    expect(works.map((work) => work.stopped())).toEqual([true, false]);
    works[1]?.answer('of corner 2');
    works[0]?.answer('of corner 1');
    await settled();
    expect(inquiry.state().answer?.value).toBe('of corner 2');
  });
  test('going back to the question that was answered needs no work', async () => {
    const inquiry = new Inquiry<Question, string>(begin);
    inquiry.put({ stage, corner: 1 });
    works[0]?.answer('of corner 1');
    await settled();
    inquiry.put({ stage, corner: 2 });
    inquiry.put({ stage, corner: 1 });
    expect(inquiry.state().working).toBe(false);
    expect(isStale(inquiry.state())).toBe(false);
    expect(works).toHaveLength(2);
  });
});

describe('a question without an answer', () => {
  test('says why, logs the cause, and can be asked once more', async () => {
    const logged = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const inquiry = new Inquiry<Question, string>(begin);
    inquiry.put({ stage, corner: 1 });
    const cause = new Error('it broke down');
    works[0]?.fail(cause);
    await settled();
    expect(inquiry.state()).toMatchObject({ working: false, failure: { sentence: 'it broke down' } });
    expect(logged).toHaveBeenCalledWith(expect.any(String), cause);
    inquiry.retry();
    expect(inquiry.state()).toMatchObject({ working: true, failure: undefined });
    works[1]?.answer('after all');
    await settled();
    expect(inquiry.state()).toMatchObject({ working: false, answer: { value: 'after all' } });
    logged.mockRestore();
  });
  test('keeps the answer to the one before, which is then stale', async () => {
    const logged = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const inquiry = new Inquiry<Question, string>(begin);
    inquiry.put({ stage, corner: 1 });
    works[0]?.answer('of corner 1');
    await settled();
    inquiry.put({ stage, corner: 2 });
    works[1]?.fail(new Error('no'));
    await settled();
    expect(isStale(inquiry.state())).toBe(true);
    expect(inquiry.state()).toMatchObject({ answer: { value: 'of corner 1' }, failure: { question: { corner: 2 } } });
    logged.mockRestore();
  });
});

describe('standing still', () => {
  test('gives up what is under way and begins it anew', async () => {
    const inquiry = new Inquiry<Question, string>(begin);
    inquiry.put({ stage, corner: 1 });
    inquiry.hold(true);
    expect(works[0]?.stopped()).toBe(true);
    expect(inquiry.state().working).toBe(true);
    inquiry.hold(false);
    expect(works).toHaveLength(2);
    works[1]?.answer('done');
    await settled();
    expect(inquiry.state().answer?.value).toBe('done');
  });
  test('a question put meanwhile waits', () => {
    const inquiry = new Inquiry<Question, string>(begin);
    inquiry.hold(true);
    inquiry.put({ stage, corner: 1 });
    expect(works).toHaveLength(0);
    inquiry.hold(false);
    expect(works).toHaveLength(1);
  });
  test('once nobody looks any more the work is ended', () => {
    const inquiry = new Inquiry<Question, string>(begin);
    inquiry.put({ stage, corner: 1 });
    inquiry.end();
    expect(works[0]?.stopped()).toBe(true);
    expect(inquiry.state()).toMatchObject({ question: undefined, working: false });
  });
});

describe('the same question', () => {
  test('small settings by what they say, stages by identity', () => {
    expect(sameQuestion({ stage, panes: ['a', 'b'] }, { stage, panes: ['a', 'b'] })).toBe(true);
    expect(sameQuestion({ stage, panes: ['a'] }, { stage, panes: ['b'] })).toBe(false);
    const nested = { parts: { inductor: { inductance: 1e-6 } } };
    expect(sameQuestion({ stage: nested }, { stage: structuredClone(nested) })).toBe(false);
    expect(sameQuestion({ stage, corner: 1 }, { stage })).toBe(false);
    expect(sameQuestion(undefined, { stage })).toBe(false);
  });
});
