import { formatQuantity, SLOPE_RULES, SLOPE_WORDS, type Stage } from '@yundro/core';
import type { Remote } from 'comlink';
import { useMemo } from 'react';
import type { Survey } from '../engine/survey.worker';
import { useSurvey } from '../engine/useSurvey';
import { ChoiceField } from '../fields/ChoiceField';
import { QuantityField } from '../fields/QuantityField';
import { putPart, useSession } from '../stage/stageSession';

const SCHEMES = [
  { value: 'voltage-mode', words: 'voltage mode' },
  { value: 'voltage-mode-feedforward', words: 'voltage mode, feed-forward' },
  { value: 'peak-current-mode', words: 'peak current' },
  { value: 'average-current-mode', words: 'average current' },
  { value: 'constant-on-time', words: 'constant on-time' },
  { value: 'digital', words: 'sampled PID' },
  { value: 'open-loop', words: 'open loop' },
];

/** The scheme, and what decides when a switch turns. */
export function ModulatorFields({ scheme }: { readonly scheme: Stage['control']['scheme'] }) {
  return (
    <fieldset>
      <legend>Modulator</legend>
      <ChoiceField path={['control', 'scheme']} label="Scheme" choices={SCHEMES} />
      <QuantityField path={['control', 'reference']} label="Reference" optional />
      {(scheme.startsWith('voltage-mode') || scheme === 'average-current-mode') && (
        <QuantityField path={['control', 'rampAmplitude']} label="Ramp, peak to peak" optional />
      )}
      {scheme === 'constant-on-time' && <QuantityField path={['control', 'onTime']} label="On-time" />}
      {scheme.endsWith('current-mode') && (
        <QuantityField path={['control', 'currentSenseGain']} label="Current sense" optional />
      )}
      {scheme === 'peak-current-mode' && (
        <>
          <QuantityField path={['control', 'slopeCompensation']} label="Slope compensation" />
          <SlopeRules />
        </>
      )}
    </fieldset>
  );
}

/** Slope compensation by rule: sources differ, so each is offered by its name. */
function SlopeRules() {
  const stage = useSession((session) => session.worked?.stage);
  const ask = useMemo(() => (stage ? async (survey: Remote<Survey>) => survey.slopes(stage) : undefined), [stage]);
  const { found } = useSurvey(ask);
  if (!found || found.length === 0) return null;
  return (
    <p className="small quiet mb-1">
      by rule:{' '}
      {SLOPE_RULES.map((rule, k) => (
        <span key={rule}>
          {k > 0 && ', '}
          <button
            type="button"
            className="link"
            title={`${SLOPE_WORDS[rule].rule} ${SLOPE_WORDS[rule].source}`}
            onClick={() => putPart(['control', 'slopeCompensation'], Number((found[k] ?? 0).toPrecision(3)))}
          >
            {SLOPE_WORDS[rule].name} {formatQuantity(found[k] ?? 0, 'V/s', 3)}
          </button>
        </span>
      ))}
    </p>
  );
}
