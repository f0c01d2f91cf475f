import type { SwitchPlace } from '@yundro/core';
import { PinToggle } from '../fields/PinToggle';
import { QuantityField } from '../fields/QuantityField';
import { Rare } from '../station/Rare';
import { useSession } from '../stage/stageSession';

const CHANNEL = [
  ['onResistance', 'On-resistance', false],
  ['onResistanceTemperatureCoefficient', 'Its rise per kelvin', true],
  ['drainSourceVoltageMax', 'Voltage rating', true],
  ['drainCurrentMax', 'Current rating', true],
  ['count', 'In parallel', true],
  ['junctionToAmbient', 'Junction to ambient', true],
  ['junctionToCase', 'Junction to case', true],
] as const;
const CHARGES = [
  ['gateCharge', 'Gate charge', true],
  ['gateDrainCharge', 'Gate-drain charge', true],
  ['gateSourceCharge', 'Gate-source charge', true],
  ['gateDriveVoltage', 'Gate drive voltage', true],
  ['thresholdVoltage', 'Threshold', true],
  ['plateauVoltage', 'Plateau', true],
  ['gateResistance', 'Gate resistance', true],
] as const;
const OTHER = [
  ['outputCharge', 'Output charge', true],
  ['outputEnergy', 'Output energy', true],
  ['outputChargeVoltage', 'both stated at', true],
  ['recoveryCharge', 'Recovery charge', true],
  ['bodyDiodeVoltage', 'Body diode drop', true],
  ['bodyDiodeResistance', 'Body diode resistance', true],
] as const;

/** Everything the losses of a MOSFET hang on. */
export function SwitchFields({ place, words }: { readonly place: SwitchPlace; readonly words: string }) {
  const name = useSession((session) => session.document?.parts[place]?.name);
  const group = (fields: readonly (readonly [string, string, boolean])[]) =>
    fields.map(([key, label, optional]) => (
      <QuantityField
        key={key}
        path={['parts', place, key]}
        label={label}
        optional={optional}
        {...(key === 'onResistance' && { series: 'E24' as const })}
      />
    ));
  return (
    <>
      <fieldset>
        <legend>
          {words}
          {name !== undefined && `: ${name}`} <PinToggle place={`parts.${place}`} words={words} />
        </legend>
        {group(CHANNEL)}
      </fieldset>
      <Rare words="Gate">{group(CHARGES)}</Rare>
      <Rare words="Output and body diode">{group(OTHER)}</Rare>
    </>
  );
}

/** Everything the losses of a rectifier diode hang on. */
export function DiodeFields() {
  const name = useSession((session) => session.document?.parts.diode?.name);
  return (
    <>
      <fieldset>
        <legend>
          Rectifier diode{name !== undefined && `: ${name}`} <PinToggle place="parts.diode" words="Rectifier diode" />
        </legend>
        <QuantityField path={['parts', 'diode', 'forwardVoltage']} label="Forward voltage" />
        <QuantityField path={['parts', 'diode', 'dynamicResistance']} label="Resistance" />
        <QuantityField path={['parts', 'diode', 'reverseVoltageMax']} label="Voltage rating" optional />
        <QuantityField path={['parts', 'diode', 'currentMax']} label="Current rating" optional />
      </fieldset>
      <fieldset>
        <legend>Charge, leakage, heat</legend>
        <QuantityField path={['parts', 'diode', 'junctionCapacitance']} label="Junction capacitance" optional />
        <QuantityField path={['parts', 'diode', 'recoveryCharge']} label="Recovery charge" optional />
        <QuantityField path={['parts', 'diode', 'leakageCurrent']} label="Leakage at 25 °C" optional />
        <QuantityField path={['parts', 'diode', 'leakageDoubling']} label="doubles each" optional />
        <QuantityField path={['parts', 'diode', 'junctionToAmbient']} label="Junction to ambient" optional />
        <QuantityField path={['parts', 'diode', 'junctionToCase']} label="Junction to case" optional />
      </fieldset>
    </>
  );
}
