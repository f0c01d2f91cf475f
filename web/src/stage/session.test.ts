import { afterAll, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { stageSchema, type Stage, type StagePath, type StageRecord } from '@yundro/core';
import type { Worked } from '../engine/engine';

const OUT: StagePath = ['targets', 'outputVoltage'];
const LOW: StagePath = ['targets', 'inputVoltage', 'min'];
const HIGH: StagePath = ['targets', 'inputVoltage', 'max'];
const LIMIT: StagePath = ['targets', 'phaseMargin'];
const L: StagePath = ['parts', 'inductor', 'inductance'];

const stage = stageSchema.parse({
  format: 'yundro-stage',
  version: 1,
  topology: 'buck',
  targets: {
    inputVoltage: { min: 10, max: 14 },
    outputVoltage: 5,
    outputCurrent: { min: 0.1, max: 3 },
  },
  parts: { inductor: { inductance: 5e-6 } },
});

/** The engine as a test has it: the free inductance follows the output voltage. */
const works: { stage: Stage; rechoose: boolean }[] = [];
let engineFails = false;
const askEngine = jest.fn(async (question: (engine: unknown) => unknown) => {
  await Promise.resolve();
  if (engineFails) throw new Error('it was ended');
  return question({
    work: (work: number, given: Stage, rechoose: boolean): Worked => {
      works.push({ stage: given, rechoose });
      const free = rechoose && !given.pinned.includes('parts.inductor');
      const chosen = free
        ? {
            ...given,
            parts: { ...given.parts, inductor: { resistance: 0, inductance: 1e-6 * given.targets.outputVoltage } },
          }
        : given;
      return { work, stage: structuredClone(chosen), evaluation: undefined, problems: [], choices: [], corners: [] };
    },
  });
});
jest.unstable_mockModule('../engine/engineClient', () => ({ askEngine }));
jest.unstable_mockModule('../engine/useSurvey', () => ({ setEditing: () => undefined }));

const kept = new Map<string, string>();
Object.assign(globalThis, {
  localStorage: {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, text: string) => kept.set(key, text),
    removeItem: (key: string) => kept.delete(key),
  },
});

const ID = '00000000-0000-4000-8000-000000000001';
const recordOf = (document: Stage, revision = 1): StageRecord => ({
  id: ID,
  projectId: '00000000-0000-4000-8000-000000000002',
  projectName: 'Bench',
  revision,
  updatedAt: '2026-01-01T00:00:00Z',
  document,
});
/** What the server answers, in turn; and what it was sent. */
let answers: (() => Response | Promise<Response>)[] = [];
const sent: { method: string; path: string; body: { revision: number; document: Stage; save: string } | undefined }[] =
  [];
const json = (body: unknown, status = 200): Response => new Response(JSON.stringify(body), { status });
const problem = (status: number): Response =>
  json({ type: '/problems/x', title: 'x', status, detail: `Status ${String(status)}.` }, status);
const fetched = jest.spyOn(globalThis, 'fetch').mockImplementation((path, options) => {
  const body =
    typeof options?.body === 'string' ? (JSON.parse(options.body) as (typeof sent)[number]['body']) : undefined;
  sent.push({ method: options?.method ?? 'GET', path: path as string, body });
  const next = answers.shift();
  return next ? Promise.resolve(next()) : Promise.reject(new TypeError('no network'));
});

const { openStage } = await import('./opening');
const { readNumber, redo, takeText, typeText, undo, withdraw } = await import('./editing');
const { saveNow } = await import('./saving');
const { refusedTexts, sessionNow, setUntracked, useHistory } = await import('./stageSession');
const { answerDesign, askDesign, forgetDesign, takeDesign, toDesign, useDesigning, useWishes } =
  await import('../design/designing');

const settled = () => new Promise((resolve) => setTimeout(resolve, 0));
const type = async (path: StagePath, text: string): Promise<void> => {
  typeText(path, text, readNumber(path, text, false));
  await settled();
};
const take = async (path: StagePath, text: string, joins = false): Promise<void> => {
  takeText(path, text, readNumber(path, text, false), { joins });
  await settled();
};
const output = (): number | undefined => sessionNow().document?.targets.outputVoltage;
const steps = (): number => useHistory.getState().pastStates.length;
const opened = async (): Promise<void> => {
  answers = [() => json(recordOf(stage))];
  await openStage(ID);
  works.length = 0;
  sent.length = 0;
};

beforeEach(async () => {
  jest.useRealTimers();
  kept.clear();
  engineFails = false;
  await opened();
});
afterAll(async () => {
  // What is not saved is tried again for ever: the last test leaves nothing that is not.
  kept.clear();
  await opened();
  fetched.mockRestore();
});

test('what was worked is the design itself, though the engine answers with a copy: what is taken of it is still of the design', async () => {
  expect(sessionNow().worked?.stage).toBe(sessionNow().document);
  await take(OUT, '3.3');
  expect(sessionNow().worked?.stage).toBe(sessionNow().document);
});

describe('what is being typed', () => {
  test('is previewed: worked and shown, but neither the design, nor a step of undo, nor saved', async () => {
    await type(OUT, '3');
    await type(OUT, '3.3');
    expect(output()).toBe(5);
    expect(sessionNow().preview?.targets.outputVoltage).toBe(3.3);
    expect(sessionNow().worked?.stage.parts.inductor?.inductance).toBeCloseTo(3.3e-6, 12);
    expect(steps()).toBe(0);
    expect(sessionNow().save.kind).toBe('saved');
    await saveNow();
    expect(sent).toEqual([]);
  });
  test('the beginning of a number that is refused as a whole is never designed', async () => {
    await type(OUT, '1');
    await type(OUT, '12');
    expect(output()).toBe(5);
    expect(sessionNow().preview).toBeUndefined();
    expect(sessionNow().worked?.stage.targets.outputVoltage).toBe(5);
    await take(OUT, '12');
    expect(output()).toBe(5);
    expect(sessionNow().worked?.stage.targets.outputVoltage).toBe(5);
    expect(refusedTexts(sessionNow()).map(({ text }) => text)).toEqual(['12']);
  });
  test('an illegible text is refused without a beginning of it being worked', async () => {
    await type(OUT, '3.3x');
    expect([sessionNow().preview, works]).toEqual([undefined, []]);
    await take(OUT, '3.3x');
    expect(output()).toBe(5);
  });
  test('becomes the design when it is taken, as one step of undo, without being worked twice', async () => {
    await type(OUT, '3');
    await type(OUT, '3.3');
    const worked = works.length;
    await take(OUT, '3.3');
    expect(output()).toBe(3.3);
    expect(sessionNow().document?.parts.inductor?.inductance).toBeCloseTo(3.3e-6, 12);
    expect(works).toHaveLength(worked);
    expect(steps()).toBe(1);
    undo();
    await settled();
    expect([output(), sessionNow().document?.parts.inductor?.inductance]).toEqual([5, 5e-6]);
    redo();
    await settled();
    expect(output()).toBe(3.3);
  });
  test('is dropped by Escape: the design is worked as before', async () => {
    await type(OUT, '3.3');
    withdraw(OUT);
    await settled();
    expect([output(), sessionNow().typing, sessionNow().preview]).toEqual([5, undefined, undefined]);
    expect(sessionNow().worked?.stage.targets.outputVoltage).toBe(5);
    expect(steps()).toBe(0);
  });
  test('is dropped by one undo, which takes no step before it back', async () => {
    await take(LIMIT, '50');
    await type(OUT, '3.3');
    undo();
    await settled();
    expect([output(), sessionNow().typing, sessionNow().document?.targets.phaseMargin]).toEqual([5, undefined, 50]);
    undo();
    await settled();
    expect(sessionNow().document?.targets.phaseMargin).toBeUndefined();
  });
  test('the value that is there already changes and pins nothing', async () => {
    await type(L, '5 µH');
    await take(L, '5 µH');
    expect([sessionNow().document?.pinned, steps()]).toEqual([[], 0]);
    await take(L, '6.8u');
    expect(sessionNow().document?.pinned).toEqual(['parts.inductor']);
  });
  test('steps of one key after another are one step of undo', async () => {
    await take(LIMIT, '50');
    await take(LIMIT, '51', true);
    await take(LIMIT, '52', true);
    expect([sessionNow().document?.targets.phaseMargin, steps()]).toEqual([52, 1]);
    undo();
    await settled();
    expect(sessionNow().document?.targets.phaseMargin).toBeUndefined();
  });
});

describe('a refused text', () => {
  test('leaves the value of before in force; one undo takes it away, and so does Escape', async () => {
    await take(OUT, '12');
    expect([output(), refusedTexts(sessionNow()).length, steps()]).toEqual([5, 1, 1]);
    undo();
    expect([output(), refusedTexts(sessionNow()).length]).toEqual([5, 0]);
    await take(OUT, '12');
    withdraw(OUT);
    expect(refusedTexts(sessionNow())).toEqual([]);
    // The refusal and its withdrawal leave no step behind: one undo takes back the edit before them.
    await take(OUT, '3.3');
    await take(OUT, '12');
    withdraw(OUT);
    undo();
    await settled();
    expect([output(), refusedTexts(sessionNow()).length]).toEqual([5, 0]);
  });
  test('is taken together with the edit that makes it fit', async () => {
    await take(LOW, '20');
    expect(sessionNow().document?.targets.inputVoltage.min).toBe(10);
    await take(HIGH, '28');
    expect(sessionNow().document?.targets.inputVoltage).toEqual({ min: 20, max: 28 });
    expect(refusedTexts(sessionNow())).toEqual([]);
  });
  test('and a text under way survive a reload as texts; the design is that of before', async () => {
    await take(OUT, '12');
    await type(LIMIT, '4');
    await opened();
    const texts = refusedTexts(sessionNow());
    expect(texts.map(({ text }) => text).sort()).toEqual(['12', '4']);
    expect([output(), sessionNow().document?.targets.phaseMargin]).toEqual([5, undefined]);
    // Nothing of them is taken with another edit: they have to be meant again.
    await take(HIGH, '28');
    expect([output(), sessionNow().document?.targets.phaseMargin]).toEqual([5, undefined]);
    withdraw(OUT);
    withdraw(LIMIT);
    await opened();
    expect(refusedTexts(sessionNow())).toEqual([]);
  });
});

describe('the engine', () => {
  test('works the one it is at, and of those that came meanwhile only the newest', async () => {
    typeText(OUT, '1', readNumber(OUT, '1', false));
    typeText(OUT, '1.2', readNumber(OUT, '1.2', false));
    typeText(OUT, '1.25', readNumber(OUT, '1.25', false));
    await settled();
    await settled();
    expect(works.map((one) => one.stage.targets.outputVoltage)).toEqual([1, 1.25]);
    expect(sessionNow()).toMatchObject({ stale: false });
  });
  test('that gives no answer says so, and can be asked again', async () => {
    const logged = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    engineFails = true;
    await take(OUT, '3.3');
    expect(sessionNow()).toMatchObject({ workFault: 'it was ended', stale: true });
    engineFails = false;
    const { retryWork } = await import('./working');
    retryWork();
    await settled();
    expect(sessionNow()).toMatchObject({ workFault: undefined, stale: false });
    expect(sessionNow().worked?.stage.targets.outputVoltage).toBe(3.3);
    logged.mockRestore();
  });
});

describe('saving', () => {
  test('a save whose answer was lost is sent again under the same name', async () => {
    await take(OUT, '3.3');
    const { document } = sessionNow();
    if (!document) throw new Error('no document');
    answers = [];
    await saveNow();
    expect(sessionNow().save.kind).toBe('unreachable');
    answers = [() => json(recordOf(document, 2))];
    await saveNow();
    const saves = sent.filter(({ method }) => method === 'PUT').map(({ body }) => body?.save);
    expect(saves).toHaveLength(2);
    expect(saves[0]).toBe(saves[1]);
    expect(sessionNow().save.kind).toBe('saved');
    expect(sessionNow().record?.revision).toBe(2);
  });
  test('another edit is another save', async () => {
    await take(OUT, '3.3');
    await saveNow();
    await take(OUT, '1.8');
    await saveNow();
    const saves = sent.filter(({ method }) => method === 'PUT').map(({ body }) => body?.save);
    expect(new Set(saves).size).toBe(2);
  });
  test.each([
    [503, 'unreachable'],
    [507, 'unreachable'],
    [404, 'gone'],
    [400, 'refused'],
  ] as const)('status %d leaves the edit in the browser: %s', async (status, kind) => {
    await take(OUT, '3.3');
    answers = [() => problem(status)];
    await saveNow();
    expect(sessionNow().save.kind).toBe(kind);
    expect(kept.get(`yundro.unsaved.${ID}`)).toContain('3.3');
  });
  test('a stage that cannot be opened says of what kind that is', async () => {
    answers = [() => problem(404)];
    await openStage(ID);
    expect(sessionNow().loadFault).toMatchObject({ kind: 'missing' });
    answers = [];
    await openStage(ID);
    expect(sessionNow().loadFault).toMatchObject({ kind: 'unreachable' });
    answers = [() => problem(422)];
    await openStage(ID);
    expect(sessionNow().loadFault).toMatchObject({ kind: 'unreadable' });
  });
  test('edits that were never saved are on top when the stage is opened again', async () => {
    await take(OUT, '3.3');
    answers = [() => json(recordOf(stage))];
    await openStage(ID);
    expect(output()).toBe(3.3);
    expect(sessionNow().save.kind).toBe('waiting');
    answers = [() => json(recordOf(stage, 4))];
    await openStage(ID);
    expect(sessionNow().save.kind).toBe('conflict');
  });
});

describe('a design from records', () => {
  const LOAD: StagePath = ['targets', 'outputCurrent', 'max'];
  const mosfet = { name: 'MR1', onResistance: 0.01 };
  /** A stage that is complete, its free parts from records. */
  const whole = stageSchema.parse({
    ...stage,
    switchingFrequency: 300e3,
    parts: {
      inductor: { name: 'LX1', inductance: 5e-6, resistance: 0.01 },
      outputCapacitors: [{ capacitance: 50e-6 }],
      highSide: mosfet,
      lowSide: mosfet,
    },
  });
  const designed = stageSchema.parse({ ...whole, deadTime: 20e-9, control: { ...whole.control, currentLimit: 7 } });
  const proposal = {
    kind: 'design' as const,
    stage: designed,
    figures: { loss: 1, area: 1e-4, price: 1 },
    choices: ['deadTime', 'control.currentLimit'].map((path) => ({
      path,
      quantity: path,
      unit: 's' as const,
      value: 0,
      rule: '',
      source: '',
    })),
    missed: [],
    simulated: false,
    notJudged: [],
    notIncluded: [],
    noLoop: undefined,
    noController: undefined,
    drafts: [],
    nearest: [],
  };
  /** Ask, and let it be answered. */
  const design = (joins = false): void => {
    askDesign(joins);
    const { asked } = useDesigning.getState();
    if (!asked) throw new Error('nothing is asked');
    answerDesign(asked, proposal);
  };
  beforeEach(() => {
    forgetDesign();
    useWishes.setState({ always: false });
    setUntracked({ document: whole });
    useHistory.getState().clear();
  });

  test('is taken as one step of undo, and only when it is taken', async () => {
    design();
    expect(sessionNow().document).toBe(whole);
    takeDesign();
    await settled();
    expect(sessionNow().document).toBe(designed);
    expect(steps()).toBe(1);
    undo();
    expect(sessionNow().document).toBe(whole);
  });
  test('that answers an edit joins its step', async () => {
    await take(LOAD, '4');
    expect(steps()).toBe(1);
    design(true);
    expect(sessionNow().document).toBe(designed);
    expect(steps()).toBe(1);
    undo();
    expect(sessionNow().document).toBe(whole);
  });
  test('of a stage that has changed since is not taken', async () => {
    askDesign(true);
    const { asked } = useDesigning.getState();
    if (!asked) throw new Error('nothing is asked');
    await take(LOAD, '4');
    answerDesign(asked, proposal);
    takeDesign();
    expect(sessionNow().document?.targets.outputCurrent.max).toBe(4);
    expect(sessionNow().document?.control.currentLimit).toBeUndefined();
  });
  test('that comes while a text is under way leaves the text alone, and waits to be taken', async () => {
    askDesign(true);
    const { asked } = useDesigning.getState();
    if (!asked) throw new Error('nothing is asked');
    await type(LOAD, '4');
    answerDesign(asked, proposal);
    expect(sessionNow().typing?.text).toBe('4');
    expect(sessionNow().preview?.targets.outputCurrent.max).toBe(4);
    expect(sessionNow().document).toBe(whole);
  });
  test('an answer to what is asked no more is none', () => {
    askDesign();
    const { asked } = useDesigning.getState();
    if (!asked) throw new Error('nothing is asked');
    askDesign();
    answerDesign(asked, proposal);
    expect(useDesigning.getState().answer).toBeUndefined();
  });
  test('what it chose of the control is chosen anew with the next, unless it was typed since', () => {
    design();
    takeDesign();
    expect(toDesign(designed)).toMatchObject({ deadTime: 0 });
    expect(toDesign(designed).control.currentLimit).toBeUndefined();
    const typed = { ...designed, control: { ...designed.control, currentLimit: 9 } };
    expect(toDesign(typed).control.currentLimit).toBe(9);
  });
  test('parts from records stand through an edit; a first cut’s, and those of another form of stage, do not', async () => {
    const rechosen = async (path: StagePath, text: string): Promise<boolean | undefined> => {
      works.length = 0;
      await take(path, text);
      return works.at(-1)?.rechoose;
    };
    expect(await rechosen(LOAD, '4')).toBe(false);
    expect(await rechosen(['phases'], '2')).toBe(true);
    setUntracked({
      document: stageSchema.parse({
        ...whole,
        parts: {
          ...whole.parts,
          inductor: { inductance: 5e-6, resistance: 0.01 },
          highSide: { onResistance: 0.01 },
          lowSide: { onResistance: 0.01 },
        },
      }),
    });
    expect(await rechosen(LOAD, '4.5')).toBe(true);
    // Where every edit is answered from records they stand too, and a design is asked for.
    useWishes.setState({ always: true });
    expect(await rechosen(LOAD, '5')).toBe(false);
    expect(useDesigning.getState().asked?.joins).toBe(true);
  });
});
