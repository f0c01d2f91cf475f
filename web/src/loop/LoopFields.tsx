import { usesNetwork } from '@yundro/core';
import { Button } from 'react-bootstrap';
import { QuantityField } from '../fields/QuantityField';
import { putPart } from '../stage/editing';
import { useSession } from '../stage/stageSession';
import { CompensatorFields } from './CompensatorFields';
import { ModulatorFields } from './ModulatorFields';
import { Proposal } from './Proposal';

/** Modulator, amplifier and components of the loop, and what is proposed on demand. */
export function LoopFields() {
  const control = useSession((session) => session.document?.control);
  if (!control) return null;
  const { scheme, compensator } = control;
  const networked = usesNetwork(scheme);
  const controlled = scheme !== 'open-loop';
  return (
    <>
      {controlled && <Proposal key={scheme} scheme={scheme} />}
      <div className="columns mt-2">
        <ModulatorFields scheme={scheme} />
        {scheme === 'average-current-mode' && <CurrentAmplifierFields />}
        {scheme === 'digital' && <DigitalFields />}
        {scheme === 'constant-on-time' && <RippleFields present={control.rippleInjection !== undefined} />}
        {networked && compensator && <CompensatorFields compensator={compensator} />}
        {controlled && <SettingFields />}
      </div>
    </>
  );
}

function CurrentAmplifierFields() {
  const part = (key: string) => ['control', 'currentAmplifier', key] as const;
  return (
    <fieldset>
      <legend>Current amplifier</legend>
      <QuantityField path={part('rInput')} label="Input resistor" optional series="E24" />
      <QuantityField path={part('rZero')} label="Current zero resistor" optional series="E24" />
      <QuantityField path={part('cZero')} label="Current zero capacitor" optional series="E12" />
      <QuantityField path={part('cPole')} label="Current pole capacitor" optional series="E12" />
    </fieldset>
  );
}

function DigitalFields() {
  const gain = (key: string) => ['control', 'digital', key] as const;
  const part = (key: string) => ['control', 'compensator', 'components', key] as const;
  const divided = useSession((session) => session.document?.control.compensator !== undefined);
  return (
    <fieldset>
      <legend>Sampled PID</legend>
      <QuantityField path={gain('proportional')} label="Proportional gain" optional />
      <QuantityField path={gain('integral')} label="Integral gain a sample" optional />
      <QuantityField path={gain('derivative')} label="Derivative gain a sample" optional without="none" />
      <QuantityField path={gain('delay')} label="Sample to clock" optional without="one period" />
      {divided && (
        <>
          <QuantityField path={part('rUpper')} label="Upper divider" optional series="E96" />
          <QuantityField path={part('rLower')} label="Lower divider" optional series="E96" />
        </>
      )}
    </fieldset>
  );
}

function RippleFields({ present }: { readonly present: boolean }) {
  const part = (key: string) => ['control', 'rippleInjection', key] as const;
  if (!present) return null;
  return (
    <fieldset>
      <legend>Ripple injection</legend>
      <QuantityField path={part('resistance')} label="Ripple resistor" series="E24" />
      <QuantityField path={part('capacitance')} label="Ripple capacitor" series="E12" />
      <QuantityField path={part('coupling')} label="Coupling capacitor" series="E12" />
      <Button variant="plain" onClick={() => putPart(['control', 'rippleInjection'], undefined)}>
        Take it out
      </Button>
    </fieldset>
  );
}

/** Tolerances for the spread, and the shares the crossover is kept below. */
function SettingFields() {
  const tolerance = (key: string) => ['control', 'tolerances', key] as const;
  const limit = (key: string) => ['control', 'crossoverLimits', key] as const;
  return (
    <fieldset>
      <legend>Tolerances and limits</legend>
      <QuantityField path={tolerance('resistors')} label="Resistors" optional without="usual 1 %" />
      <QuantityField path={tolerance('capacitors')} label="Capacitors" optional without="usual 5 %" />
      <QuantityField path={tolerance('controller')} label="Controller" optional without="usual 10 %" />
      <QuantityField path={limit('ofSwitchingFrequency')} label="Crossover / switching" optional without="usual 0.2" />
      <QuantityField path={limit('ofRightHalfPlaneZero')} label="Crossover / RHP zero" optional without="usual 0.33" />
    </fieldset>
  );
}
