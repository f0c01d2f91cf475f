import { loopMargins, stepMargins, unjudgedLoop, verdictWord, type Verdict } from '@yundro/core';
import { useMemo } from 'react';
import { useLocation } from 'react-router';
import type { WorkedVerdicts } from '../engine/transientSurvey';
import { useSurvey } from '../engine/useSurvey';
import { useSession } from '../stage/stageSession';
import { useFullLedgerWorking, useFullLines, useJudgedStage, useWorkFullLedger, type OfStage } from './fullLedger';
import { useJudges, useLedger } from './judgements';
import { lineOf, worstLine, type Unjudged } from './lines';
import { useJudgedLoop, useWorkLoop } from './loopJudgement';
import { useSpreadYield, yieldWords } from './spreadYield';

const NONE: readonly Verdict[] = [];
const NO_WORDS: readonly string[] = [];
const NO_UNJUDGED: readonly Unjudged[] = [];
const LOOP_SETTLES = ['phase margin', 'gain margin'] as const;
const STEP_SETTLES = ['load step'] as const;

/** Steady state: every target at its worst corner at once, and in full with drivers and spread as soon as they are worked. */
function SteadyState() {
  const asked = useWorkFullLedger();
  const verdicts = useSession((session) => session.worked?.evaluation?.verdicts) ?? NONE;
  const corners = useSession((session) => session.worked?.corners);
  const full = useFullLines();
  const lines = useMemo(
    () =>
      verdicts.map((verdict) =>
        lineOf(
          verdict,
          full?.find(({ target }) => target === verdict.target),
        ),
      ),
    [verdicts, full],
  );
  const least = useMemo(() => corners?.map((corner) => corner.least) ?? [], [corners]);
  useJudges(
    'steady state',
    useMemo(
      () => ({ what: 'driver of the margins', settles: NO_WORDS, unjudged: NO_UNJUDGED, lines, least, asked }),
      [lines, least, asked],
    ),
  );
  return null;
}

/** The loop: stability and margins at every corner. */
function Loop() {
  const asked = useWorkLoop();
  const judged = useJudgedLoop();
  const stage = useSession((session) => session.worked?.stage);
  const corners = useSession((session) => session.worked?.corners);
  const spread = useSpreadYield(stage);
  const lines = useMemo(
    () =>
      (judged?.verdicts ?? NONE).map((verdict) => {
        const kept = spread && yieldWords(spread, verdict.quantity);
        return kept === undefined ? lineOf(verdict) : { ...lineOf(verdict), kept };
      }),
    [judged, spread],
  );
  const unjudged = useMemo(() => {
    const reason = stage && judged && unjudgedLoop(stage, judged);
    return reason === undefined
      ? NO_UNJUDGED
      : [{ quantity: 'stability of the loop', reason: `there is no loop yet: ${reason}`, station: 'loop' as const }];
  }, [stage, judged]);
  const least = useMemo(() => {
    if (!stage || !judged || !corners) return [];
    const found = loopMargins(stage, judged.corners);
    return corners.map(
      ({ inputVoltage, outputCurrent }) =>
        found.find(({ corner }) => corner.inputVoltage === inputVoltage && corner.outputCurrent === outputCurrent)
          ?.least,
    );
  }, [stage, judged, corners]);
  useJudges(
    'loop',
    useMemo(
      () => ({
        what: 'verdict on the loop',
        settles: lines.length > 0 ? LOOP_SETTLES : NO_WORDS,
        unjudged,
        lines,
        least,
        asked,
      }),
      [lines, unjudged, least, asked],
    ),
  );
  return null;
}

/** The transient targets: load steps simulated at every input corner. */
function Transient() {
  const judgedStage = useJudgedStage();
  // It takes seconds: what mends a margin is wanted sooner.
  const waits = useFullLedgerWorking();
  const asked = useSurvey<OfStage, WorkedVerdicts | undefined>(waits ? undefined : judgedStage, (survey, { stage }) =>
    survey.judgeTransient(stage),
  );
  const stage = useSession((session) => session.worked?.stage);
  const judged = asked.answer?.question.stage === stage ? asked.answer?.value : undefined;
  // What drives a margin takes a hundred runs more: it is asked where it is looked at, or where nothing presses more.
  const { pathname } = useLocation();
  const worst = worstLine(useLedger());
  const lookedAt = pathname.endsWith('/transient') || worst?.station === 'transient';
  const presses =
    lookedAt && judged !== undefined && judged.verdicts.some((verdict) => verdictWord(verdict) !== 'holds');
  const pressing = useMemo(() => (presses && stage ? { stage, judged } : undefined), [presses, judged, stage]);
  const inFull = useSurvey(pressing, (survey, of) => survey.transientLines(of.stage, of.judged));
  const full = inFull.answer?.question.stage === stage ? inFull.answer?.value : undefined;
  const lines = useMemo(
    () =>
      (judged?.verdicts ?? NONE).map((verdict) =>
        lineOf(
          verdict,
          full?.find(({ target }) => target === verdict.target),
        ),
      ),
    [judged, full],
  );
  const unjudged = useMemo(
    () =>
      judged?.reason === undefined
        ? NO_UNJUDGED
        : [{ quantity: 'load step', reason: `no run: ${judged.reason}`, station: 'transient' as const }],
    [judged],
  );
  const corners = useSession((session) => session.worked?.corners);
  const least = useMemo(
    () => (stage && judged && corners ? stepMargins(stage, judged.steps, corners) : []),
    [stage, judged, corners],
  );
  // What could not be worked of its drivers is a failure of it too: nothing waits for them for ever.
  const broken = asked.failure === undefined && inFull.failure !== undefined;
  useJudges(
    'transient',
    useMemo(
      () => ({
        what: broken ? 'driver of the load step' : 'verdict on the load step',
        settles: judged?.reason === undefined ? (judged?.settles ?? NO_WORDS) : STEP_SETTLES,
        unjudged,
        lines,
        least,
        asked: broken ? inFull : { ...asked, working: asked.working || waits },
      }),
      [judged, unjudged, lines, least, asked, inFull, broken, waits],
    ),
  );
  return null;
}

/** All that judge a stage. A new one is one entry here: its lines, marks and corners follow. */
const SOURCES = [SteadyState, Loop, Transient] as const;

/** Keeps every judgement worked, after every edit; mounted once, by the page of the stage. */
export function VerdictSources() {
  return SOURCES.map((Source, k) => <Source key={k} />);
}
