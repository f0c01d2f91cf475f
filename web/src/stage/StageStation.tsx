import { topologyOf, type Stage } from '@yundro/core';
import { OperatingModeField } from '../efficiency/OperatingModeField';
import { PinToggle } from '../fields/PinToggle';
import { QuantityField } from '../fields/QuantityField';
import { CapacitorBanks } from './CapacitorBanks';
import { CornerFigures, CornerWords } from './CornerFigures';
import { FeedbackDivider } from './FeedbackDivider';
import { FormFields } from './FormFields';
import { ConductionView } from './ConductionView';
import { ConversionView } from './ConversionView';
import { FrequencyView } from './FrequencyView';
import { InductorFields } from './InductorFields';
import { Station } from '../station/Station';
import { PicturePick } from './PicturePick';
import { useSession } from './stageSession';
import { useLayout } from './stageView';
import { Surroundings } from './Surroundings';
import { SchematicView } from './SchematicView';
import { WaveformView } from './WaveformView';

const SWITCHES = [
  { place: 'highSide', words: 'High side' },
  { place: 'lowSide', words: 'Low side' },
  { place: 'outputLowSide', words: 'Output low side' },
  { place: 'outputHighSide', words: 'Output high side' },
] as const;

/** The switches the stage has and uses: with a diode rectifier only the main ones. */
function switchPlaces(stage: Stage): readonly (typeof SWITCHES)[number][] {
  const main = topologyOf(stage).legs.map((leg) => leg.main);
  const all = topologyOf(stage).legs.flatMap((leg) => [leg.main, leg.rectifier]);
  const used = stage.rectifier === 'diode' ? main : all;
  return SWITCHES.filter(({ place }) => used.includes(place) && stage.parts[place]);
}

/** The power stage: its values, the waveforms of a corner, and the figures of that corner. */
export function StageStation() {
  const stage = useSession((session) => session.document);
  const picture = useLayout((layout) => layout.picture);
  if (!stage) return null;
  const { diode } = stage.parts;
  return (
    <Station
      title="Stage"
      says={<CornerWords />}
      views={<PicturePick />}
      fields={
        <>
          <fieldset>
            <legend>
              Switching <PinToggle place="switchingFrequency" words="Switching frequency" />
            </legend>
            <QuantityField path={['switchingFrequency']} label="Switching frequency" />
            <QuantityField path={['deadTime']} label="Dead time" />
            <OperatingModeField />
          </fieldset>
          <InductorFields />
          {switchPlaces(stage).map(({ place, words }) => (
            <fieldset key={place}>
              <legend>
                {words} <PinToggle place={`parts.${place}`} words={words} />
              </legend>
              <QuantityField path={['parts', place, 'onResistance']} label="On-resistance" series="E24" />
              <QuantityField path={['parts', place, 'drainSourceVoltageMax']} label="Voltage rating" optional />
            </fieldset>
          ))}
          {stage.rectifier === 'diode' && diode && (
            <fieldset>
              <legend>
                Rectifier diode <PinToggle place="parts.diode" words="Rectifier diode" />
              </legend>
              <QuantityField path={['parts', 'diode', 'forwardVoltage']} label="Forward voltage" />
              <QuantityField path={['parts', 'diode', 'dynamicResistance']} label="Resistance" />
              <QuantityField path={['parts', 'diode', 'reverseVoltageMax']} label="Voltage rating" optional />
            </fieldset>
          )}
          <FormFields />
        </>
      }
      picture={
        <>
          {picture === 'conversion' && <ConversionView />}
          {picture === 'conduction' && <ConductionView />}
          {picture === 'frequency' && <FrequencyView />}
          {picture === 'waveforms' && <WaveformView />}
          {picture === 'schematic' && <SchematicView />}
          <CornerFigures />
        </>
      }
    >
      <div className="columns mt-3">
        <CapacitorBanks side="outputCapacitors" />
        <CapacitorBanks side="inputCapacitors" />
        <Surroundings />
      </div>
      <FeedbackDivider />
    </Station>
  );
}
