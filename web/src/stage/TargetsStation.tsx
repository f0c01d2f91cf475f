import { cautionsOf, UNITS, type Choice } from '@yundro/core';
import { useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { QuantityField } from '../fields/QuantityField';
import { PinToggle } from '../fields/PinToggle';
import { Quantity } from '../shown/Quantity';
import { CornerTable } from './CornerTable';
import { pinnableOf, useSession } from './stageSession';
import { FormView } from './WorkingPanel';

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

/** What the stage must do. */
export function TargetsStation() {
  const stage = useSession((session) => session.document);
  const choices = useSession((session) => session.worked?.choices);
  const pinned = useSession((session) => session.document?.pinned.length ?? 0);
  return (
    <>
      <h1>Targets</h1>
      <div className="columns">
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
      </div>
      {stage &&
        cautionsOf(stage).map((caution) => (
          <p key={caution} className="caution mb-0 mt-2">
            <strong>Caution.</strong> {caution}
          </p>
        ))}
      <h2 className="mt-3">Every corner</h2>
      <CornerTable />
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
