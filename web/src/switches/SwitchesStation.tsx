import { SWITCH_WORDS, topologyOf, type Stage, type SwitchPlace } from '@yundro/core';
import { useState } from 'react';
import { CornerPick } from '../stage/CornerFigures';
import { useSession } from '../stage/stageSession';
import { DeviceLosses } from './DeviceLosses';
import { GateTools } from './GateTools';
import { LoadProfileEditor } from './LoadProfileEditor';
import { RectifierView } from './RectifierView';
import { SwitchCandidates } from './SwitchCandidates';
import { DiodeFields, SwitchFields } from './SwitchFields';

/** The positions of a stage, the main switch of each leg before its rectifier. */
const placesOf = (stage: Stage): readonly { readonly place: SwitchPlace; readonly diode: boolean }[] =>
  topologyOf(stage).legs.flatMap(({ main, rectifier }) => [
    { place: main, diode: false },
    { place: rectifier, diode: stage.rectifier === 'diode' },
  ]);

const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** The switches: where their watts go, what the library has, gates and snubber, switch against diode. */
export function SwitchesStation() {
  const stage = useSession((session) => session.document);
  const [picked, setPicked] = useState<SwitchPlace | 'rectifiers'>();
  if (!stage) return null;
  const places = placesOf(stage);
  const shown = picked === 'rectifiers' ? undefined : (places.find(({ place }) => place === picked) ?? places[0]);
  const words = (place: SwitchPlace, diode: boolean): string =>
    diode ? 'Rectifier diode' : capital(SWITCH_WORDS[place].replace(' switch', ''));
  return (
    <>
      <h1>Switches</h1>
      <CornerPick />
      <div className="picture-pick" role="group" aria-label="Position">
        {places.map(({ place, diode }) => (
          <button key={place} type="button" aria-pressed={place === shown?.place} onClick={() => setPicked(place)}>
            {words(place, diode)}
          </button>
        ))}
        <button type="button" aria-pressed={shown === undefined} onClick={() => setPicked('rectifiers')}>
          Switch or diode
        </button>
      </div>
      {!shown && <RectifierView />}
      {shown && (
        <>
          <DeviceLosses place={shown.place} />
          {shown.diode ? (
            <div className="columns mt-3">
              <DiodeFields />
            </div>
          ) : (
            <>
              <h2 className="mt-3">From the library</h2>
              <LoadProfileEditor />
              <SwitchCandidates place={shown.place} />
              <div className="columns mt-3">
                <SwitchFields place={shown.place} words={words(shown.place, false)} />
              </div>
              <GateTools place={shown.place} />
            </>
          )}
        </>
      )}
    </>
  );
}
