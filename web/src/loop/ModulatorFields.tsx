import { formatQuantity, SLOPE_RULES, SLOPE_WORDS, type Stage } from '@yundro/core';
import { useSurvey } from '../engine/useSurvey';
import { ChoiceField } from '../fields/ChoiceField';
import { QuantityField } from '../fields/QuantityField';
import { Answered } from '../shown/Answered';
import { putPart } from '../stage/editing';
import { useWorkedStage } from '../stage/useCorner';

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
  const asked = useSurvey(useWorkedStage(), (survey, { stage }) => survey.slopes(stage));
  return (
    <Answered of={asked} what="slope by rule" wait={null}>
      {(slopes) => slopes.length > 0 && <Slopes slopes={slopes} />}
    </Answered>
  );
}

function Slopes({ slopes }: { readonly slopes: readonly number[] }) {
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
            onClick={() => putPart(['control', 'slopeCompensation'], Number((slopes[k] ?? 0).toPrecision(3)))}
          >
            {SLOPE_WORDS[rule].name} {formatQuantity(slopes[k] ?? 0, 'V/s', 3)}
          </button>
        </span>
      ))}
    </p>
  );
}
