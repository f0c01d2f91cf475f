import { ViewPick } from '../station/ViewPick';
import { DutyAs } from './CornerFigures';
import { showPicture, useLayout, type Picture } from './stageView';

const PICTURES: readonly { readonly view: Picture; readonly words: string }[] = [
  { view: 'waveforms', words: 'Waveforms' },
  { view: 'schematic', words: 'Schematic' },
  { view: 'conversion', words: 'Conversion ratio' },
  { view: 'conduction', words: 'Conduction mode' },
  { view: 'frequency', words: 'Frequency study' },
];

/** Which picture of the stage is shown. */
export function PicturePick() {
  const shown = useLayout((layout) => layout.picture);
  return (
    <div className="station-row">
      <ViewPick what="Picture" views={PICTURES} shown={shown} onPick={showPicture} />
      <DutyAs />
    </div>
  );
}
