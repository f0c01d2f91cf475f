import { PinToggle } from '../fields/PinToggle';
import { QuantityField } from '../fields/QuantityField';
import { useSession } from './stageSession';

/** The values of the inductor, the same in every phase. */
export function InductorFields() {
  const inductor = useSession((session) => session.document?.parts.inductor);
  if (!inductor) return null;
  return (
    <fieldset>
      <legend>
        Inductor, per phase{inductor.name !== undefined && `: ${inductor.name}`}{' '}
        <PinToggle place="parts.inductor" words="Inductor" />
      </legend>
      <QuantityField path={['parts', 'inductor', 'inductance']} label="Inductance" series="E12" />
      <QuantityField path={['parts', 'inductor', 'tolerance']} label="Tolerance" optional />
      <QuantityField path={['parts', 'inductor', 'resistance']} label="Resistance" series="E24" />
      <QuantityField path={['parts', 'inductor', 'saturationCurrent']} label="Saturation current" optional />
      <QuantityField path={['parts', 'inductor', 'saturationDrop']} label="Drop of L there" optional />
      <QuantityField path={['parts', 'inductor', 'heatingCurrent']} label="Heating current" optional />
      <QuantityField path={['control', 'senseResistance']} label="Sense resistor" optional />
      <QuantityField path={['control', 'currentLimit']} label="Current limit, peak" optional />
    </fieldset>
  );
}
