import { LEG_PLACES, type Stage } from '@yundro/core';
import { useEffect, useState } from 'react';
import { PinToggle } from '../fields/PinToggle';
import { QuantityField } from '../fields/QuantityField';
import { WaveformChart } from '../charts/WaveformChart';
import type { Waveforms } from '../engine/engine.worker';
import { engine } from '../engine/engineClient';
import { CornerFigures, CornerPick } from './CornerFigures';
import { FormFields } from './FormFields';
import { useSession } from './stageSession';
import { useCorner } from './useCorner';

function Bank({ side, index }: { readonly side: 'outputCapacitors' | 'inputCapacitors'; readonly index: number }) {
  const at = (key: string) => ['parts', side, index, key];
  return (
    <>
      <QuantityField path={at('capacitance')} label="Capacitance each" series="E6" />
      <QuantityField path={at('esr')} label="ESR each" />
      <QuantityField path={at('esl')} label="ESL each" />
      <QuantityField path={at('count')} label="In parallel" />
    </>
  );
}

const SWITCHES = [
  { place: 'highSide', words: 'High side' },
  { place: 'lowSide', words: 'Low side' },
  { place: 'outputLowSide', words: 'Output low side' },
  { place: 'outputHighSide', words: 'Output high side' },
] as const;

/** The switches the stage has and uses: with a diode rectifier only the main ones. */
function switchPlaces(stage: Stage): readonly (typeof SWITCHES)[number][] {
  const main = LEG_PLACES[stage.topology].map((leg) => leg.main);
  const all = LEG_PLACES[stage.topology].flatMap((leg) => [leg.main, leg.rectifier]);
  const used = stage.rectifier === 'diode' ? main : all;
  return SWITCHES.filter(({ place }) => used.includes(place) && stage.parts[place]);
}

/** The power stage: its values, the waveforms of a corner, and the figures of that corner. */
export function StageStation() {
  const stage = useSession((session) => session.document);
  const worked = useSession((session) => session.worked);
  const corner = useCorner();
  const [waveforms, setWaveforms] = useState<Waveforms>();
  useEffect(() => {
    let current = true;
    if (worked && corner !== undefined) void engine.waveforms(corner).then((found) => current && setWaveforms(found));
    return () => {
      current = false;
    };
  }, [worked, corner]);
  if (!stage) return null;
  const { inductor, outputCapacitors, inputCapacitors, diode } = stage.parts;
  const kindOf = (bank: { readonly kind: string }, i: number, all: readonly unknown[]) =>
    all.length > 1 ? ` ${String(i + 1)}: ${bank.kind}` : `: ${bank.kind}`;
  return (
    <>
      <h1>Stage</h1>
      <CornerPick />
      {waveforms ? (
        <WaveformChart waveforms={waveforms} />
      ) : (
        <p className="quiet">The waveforms appear when the stage has an operating point here.</p>
      )}
      <CornerFigures />
      <div className="columns mt-3">
        <FormFields />
        <fieldset>
          <legend>
            Switching <PinToggle place="switchingFrequency" words="Switching frequency" />
          </legend>
          <QuantityField path={['switchingFrequency']} label="Switching frequency" />
          <QuantityField path={['deadTime']} label="Dead time" />
        </fieldset>
        {inductor && (
          <fieldset>
            <legend>
              Inductor, per phase <PinToggle place="parts.inductor" words="Inductor" />
            </legend>
            <QuantityField path={['parts', 'inductor', 'inductance']} label="Inductance" series="E12" />
            <QuantityField path={['parts', 'inductor', 'resistance']} label="Resistance" series="E24" />
            <QuantityField path={['parts', 'inductor', 'saturationCurrent']} label="Saturation current" optional />
            <QuantityField path={['parts', 'inductor', 'heatingCurrent']} label="Heating current" optional />
          </fieldset>
        )}
        {outputCapacitors?.map((bank, i, all) => (
          <fieldset key={`out${String(i)}`}>
            <legend>
              Output capacitors{kindOf(bank, i, all)}{' '}
              <PinToggle place="parts.outputCapacitors" words="Output capacitors" />
            </legend>
            <Bank side="outputCapacitors" index={i} />
          </fieldset>
        ))}
        {inputCapacitors?.map((bank, i, all) => (
          <fieldset key={`in${String(i)}`}>
            <legend>
              Input capacitors{kindOf(bank, i, all)}{' '}
              <PinToggle place="parts.inputCapacitors" words="Input capacitors" />
            </legend>
            <Bank side="inputCapacitors" index={i} />
          </fieldset>
        ))}
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
      </div>
    </>
  );
}
