import type { SwitchPlace } from '@yundro/core';
import { WaveformChart } from '../charts/WaveformChart';
import { useWorked } from '../engine/useWorked';
import { Answered } from '../shown/Answered';
import { useLookedAt } from '../stage/useCorner';

/** What the device sees over two periods at the corner looked at: voltage across it and current through it, of the first phase. */
export function DevicePicture({ place }: { readonly place: SwitchPlace }) {
  const looked = useLookedAt();
  const diode = looked?.stage.rectifier === 'diode';
  const asked = useWorked(looked && { ...looked, place }, (engine, question) =>
    engine.waveforms(question.work, question.corner, [`voltage:${question.place}1`, `current:${question.place}1`]),
  );
  return (
    <Answered of={asked} what="waveforms" wait={<p className="quiet">The waveforms are being worked …</p>}>
      {(waveforms) =>
        waveforms && waveforms.traces.length > 0 ? (
          <WaveformChart waveforms={waveforms} />
        ) : (
          <p className="quiet small">
            {diode ? 'The diode' : 'The switch'} has no waveform at this corner: there is no operating point.
          </p>
        )
      }
    </Answered>
  );
}
