import { SWITCH_WORDS, topologyOf, type Stage, type SwitchPlace } from '@yundro/core';
import { useState } from 'react';
import { CornerWords } from '../stage/CornerFigures';
import { useSession } from '../stage/stageSession';
import { Station } from '../station/Station';
import { ViewPick } from '../station/ViewPick';
import { DeviceLosses } from './DeviceLosses';
import { DevicePicture } from './DevicePicture';
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
    <Station
      title="Switches"
      says={<CornerWords />}
      views={
        <ViewPick
          what="Position"
          views={[
            ...places.map(({ place, diode }) => ({ view: place, words: words(place, diode) })),
            { view: 'rectifiers', words: 'Switch or diode' },
          ]}
          shown={shown?.place ?? 'rectifiers'}
          onPick={setPicked}
        />
      }
      fields={
        shown &&
        (shown.diode ? <DiodeFields /> : <SwitchFields place={shown.place} words={words(shown.place, false)} />)
      }
      picture={
        shown ? (
          <>
            <DeviceLosses place={shown.place} />
            <DevicePicture place={shown.place} />
          </>
        ) : (
          <RectifierView />
        )
      }
    >
      {shown && !shown.diode && (
        <>
          <h2 className="mt-3">From the library</h2>
          <LoadProfileEditor />
          <SwitchCandidates place={shown.place} />
          <GateTools place={shown.place} />
        </>
      )}
    </Station>
  );
}
