import { standsOnRecords, UNITS, type Choice, type Stage } from '@yundro/core';
import { useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { QuantityField } from '../fields/QuantityField';
import { PinToggle } from '../fields/PinToggle';
import { Quantity } from '../shown/Quantity';
import { DesignBar } from '../design/DesignBar';
import { DesignProposal } from '../design/DesignProposal';
import { ControllerNeeds } from '../design/ControllerNeeds';
import { Cautions } from './Cautions';
import { CornerTable } from './CornerTable';
import { pinnableOf, putPart } from './editing';
import { useSession } from './stageSession';
import { TopologyAdvice } from './TopologyAdvice';
import { FormView } from './FormView';

function Group({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <fieldset>
      <legend>{title}</legend>
      {children}
    </fieldset>
  );
}

function ChoiceRow({ choice }: { readonly choice: Choice }) {
  const [open, setOpen] = useState(false);
  const place = pinnableOf(choice.path.split(/[.[\]]+/).filter((step) => step !== ''));
  return (
    <>
      <tr>
        <td>{choice.quantity}</td>
        <td className="number">
          {UNITS[choice.unit].symbol === '' ? (
            choice.value
          ) : (
            <Quantity value={choice.value} unit={choice.unit} digits={3} />
          )}
        </td>
        <td>{place && <PinToggle place={place} words={choice.quantity} />}</td>
        <td className="small quiet">
          {choice.rule}{' '}
          {choice.form && (
            <Button variant="plain" aria-expanded={open} className="small" onClick={() => setOpen(!open)}>
              {open ? 'Close the working' : 'Working'}
            </Button>
          )}
        </td>
      </tr>
      {open && choice.form && (
        <tr>
          <td colSpan={4}>
            <FormView form={choice.form} />
          </td>
        </tr>
      )}
    </>
  );
}

const FIRST_AMBIENT = { min: 0, max: 50 };
/** A step between a quarter and three quarters of the full load, with a twentieth of the output allowed: common practice. */
const firstLoadStep = ({ targets }: Stage) => ({
  from: targets.outputCurrent.max / 4,
  to: (3 * targets.outputCurrent.max) / 4,
  slewRate: 1e6,
  deviation: Math.abs(targets.outputVoltage) / 20,
});

const firstEfficiency = ({ targets }: Stage) => ({ outputCurrent: targets.outputCurrent.max, min: 0.9 });

interface OptionalTargetProps {
  readonly place: 'loadStep' | 'ambientTemperature' | 'efficiency';
  readonly words: string;
  readonly first: (stage: Stage) => unknown;
  readonly children: ReactNode;
}

/** A group of targets that may be asked for or not, as a whole. */
function OptionalTarget({ place, words, first, children }: OptionalTargetProps) {
  const stage = useSession((session) => session.document);
  if (!stage) return null;
  const asked = stage.targets[place] !== undefined;
  return (
    <Group title={words}>
      {asked && children}
      <Button variant="plain" onClick={() => putPart(['targets', place], asked ? undefined : first(stage))}>
        {asked ? `Do not ask for ${words.toLowerCase()}` : `Ask for ${words.toLowerCase()}`}
      </Button>
    </Group>
  );
}

/** What the stage must do. */
export function TargetsStation() {
  const choices = useSession((session) => session.worked?.choices);
  const pinned = useSession((session) => session.document?.pinned.length ?? 0);
  const fromRecords = useSession(({ document }) => document !== undefined && standsOnRecords(document));
  const unfit = useSession(({ pending }) =>
    Object.values(pending).some(({ path, value }) => path[0] === 'targets' && value !== undefined),
  );
  const advice = (
    <>
      <h2 className="mt-3">Topologies for these targets</h2>
      <TopologyAdvice />
    </>
  );
  return (
    <>
      <header className="station-head">
        <h1>Targets</h1>
        <span className="quiet">
          {fromRecords
            ? 'parts from records stand until designed anew'
            : 'what is not pinned is chosen anew with every change'}
        </span>
        <DesignBar />
      </header>
      <div className="columns four" data-station="fields">
        <Group title="Input">
          <QuantityField path={['targets', 'inputVoltage', 'min']} label="Lowest input voltage" />
          <QuantityField path={['targets', 'inputVoltage', 'nominal']} label="Nominal" optional />
          <QuantityField path={['targets', 'inputVoltage', 'max']} label="Highest" />
          <QuantityField path={['targets', 'inputRipple']} label="Ripple, peak to peak" optional />
        </Group>
        <Group title="Output">
          <QuantityField path={['targets', 'outputVoltage']} label="Output voltage" />
          <QuantityField path={['targets', 'outputCurrent', 'min']} label="Lowest load current" />
          <QuantityField path={['targets', 'outputCurrent', 'max']} label="Full load current" />
          <QuantityField path={['targets', 'outputRipple']} label="Ripple, peak to peak" optional />
        </Group>
        <Group title="Switching">
          <QuantityField path={['targets', 'switchingFrequency', 'min']} label="Lowest frequency" optional />
          <QuantityField path={['targets', 'switchingFrequency', 'max']} label="Highest frequency" optional />
          <QuantityField path={['targets', 'inductorRippleRatio']} label="Inductor ripple ratio" optional />
          <QuantityField path={['control', 'dutyMax']} label="Duty limit" />
          <QuantityField path={['control', 'minimumOnTime']} label="Shortest on-time" />
        </Group>
        <OptionalTarget place="loadStep" words="Load step" first={firstLoadStep}>
          <QuantityField path={['targets', 'loadStep', 'from']} label="From" />
          <QuantityField path={['targets', 'loadStep', 'to']} label="To" />
          <QuantityField path={['targets', 'loadStep', 'slewRate']} label="Slew rate" optional />
          <QuantityField path={['targets', 'loadStep', 'deviation']} label="Deviation allowed" optional />
          <QuantityField path={['targets', 'loadStep', 'recoveryTime']} label="Recovery time" optional />
        </OptionalTarget>
        <OptionalTarget place="ambientTemperature" words="Ambient" first={() => FIRST_AMBIENT}>
          <QuantityField path={['targets', 'ambientTemperature', 'min']} label="Coldest" />
          <QuantityField path={['targets', 'ambientTemperature', 'max']} label="Hottest" />
        </OptionalTarget>
        <Group title="Accuracy and heat">
          <QuantityField path={['targets', 'outputVoltageTolerance']} label="Output tolerance" optional />
          <QuantityField path={['targets', 'junctionTemperatureMax']} label="Junction at most" optional />
        </Group>
        <Group title="Loop">
          <QuantityField path={['targets', 'phaseMargin']} label="Phase margin" optional />
          <QuantityField path={['targets', 'gainMargin']} label="Gain margin" optional />
        </Group>
        <OptionalTarget place="efficiency" words="Efficiency" first={firstEfficiency}>
          <QuantityField path={['targets', 'efficiency', 'min']} label="At least" />
          <QuantityField path={['targets', 'efficiency', 'outputCurrent']} label="At a load of" />
        </OptionalTarget>
      </div>
      <DesignProposal />
      {/* Targets that do not fit the topology: what could do them comes first. */}
      {unfit && advice}
      <h2 className="mt-3">Every corner</h2>
      <div data-station="picture">
        <CornerTable />
      </div>
      <ControllerNeeds />
      <Cautions />
      {!unfit && advice}
      <h2 className="mt-3">Chosen from these targets</h2>
      {choices && choices.length > 0 ? (
        <table className="plain">
          <thead>
            <tr>
              <th>Value</th>
              <th className="number">Chosen</th>
              <th>Kept</th>
              <th>Rule</th>
            </tr>
          </thead>
          <tbody>
            {choices.map((choice) => (
              <ChoiceRow key={choice.path} choice={choice} />
            ))}
          </tbody>
        </table>
      ) : (
        <p className="quiet">
          {pinned > 0
            ? 'Nothing was chosen anew: every part is pinned. Free a part in the Stage station and it is chosen from the targets at once.'
            : 'Nothing was chosen since this stage was opened. Change a target and the parts are chosen anew, with the rule behind each.'}
        </p>
      )}
    </>
  );
}
