import { showPicture, useLayout, type Picture } from './stageView';

const PICTURES: readonly { readonly picture: Picture; readonly words: string }[] = [
  { picture: 'waveforms', words: 'Waveforms' },
  { picture: 'schematic', words: 'Schematic' },
  { picture: 'conversion', words: 'Conversion ratio' },
  { picture: 'conduction', words: 'Conduction mode' },
  { picture: 'frequency', words: 'Frequency study' },
];

/** Which picture of the stage is shown. */
export function PicturePick() {
  const shown = useLayout((layout) => layout.picture);
  return (
    <div className="picture-pick" role="group" aria-label="Picture">
      {PICTURES.map(({ picture, words }) => (
        <button key={picture} type="button" aria-pressed={picture === shown} onClick={() => showPicture(picture)}>
          {words}
        </button>
      ))}
    </div>
  );
}
