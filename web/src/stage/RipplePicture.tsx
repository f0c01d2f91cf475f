import { formatQuantity } from '@yundro/core';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { beyond } from '../charts/curves';
import { repeated } from '../charts/traces';
import type { CapacitorSide, Waveforms } from '../engine/engine';
import { useWorked } from '../engine/useWorked';
import { Answered } from '../shown/Answered';
import { useLookedAt } from './useCorner';

/** The output is behind a second filter where there is one. */
const RIPPLES = { outputCapacitors: ['ripple:filtered', 'ripple:out'], inputCapacitors: ['ripple:in'] } as const;
const PERIODS = 2;
/** Room above the larger of ripple and limit. */
const ROOM = 1.25;
const NO_MARKS = [] as const;

/** The ripple at one side of the stage over two periods, with what is allowed. */
export function RipplePicture({ side }: { readonly side: CapacitorSide }) {
  const looked = useLookedAt();
  const asked = useWorked(looked && { ...looked, side }, (engine, question) =>
    engine.waveforms(question.work, question.corner, RIPPLES[question.side]),
  );
  return (
    <Answered of={asked} what="ripple" wait={<p className="quiet">The ripple is being worked …</p>}>
      {(waveforms, { side: of, stage: { targets }, inputVoltage, outputCurrent }) =>
        waveforms?.traces[0] ? (
          <Ripple
            waveforms={waveforms}
            side={of}
            corner={`${formatQuantity(inputVoltage, 'V', 3)}, ${formatQuantity(outputCurrent, 'A', 3)}`}
            allowed={of === 'outputCapacitors' ? targets.outputRipple : targets.inputRipple}
          />
        ) : (
          <p className="quiet">The ripple appears when the stage has an operating point here.</p>
        )
      }
    </Answered>
  );
}

interface RippleProps {
  readonly waveforms: Waveforms;
  readonly side: CapacitorSide;
  readonly corner: string;
  /** Peak to peak, V. */
  readonly allowed: number | undefined;
}

function Ripple({ waveforms: { period, traces }, side, corner, allowed }: RippleProps) {
  const where = side === 'outputCapacitors' ? 'output' : 'input';
  const picture = useMemo(() => {
    const points = traces[0] ? repeated(traces[0].points, period, PERIODS) : [];
    const values = points.map(({ y }) => y);
    const [most, least] = [Math.max(...values), Math.min(...values)];
    // What is allowed lies about the middle of what there is.
    const middle = (most + least) / 2;
    const half = (ROOM * Math.max(most - least, allowed ?? 0)) / 2;
    return {
      x: { words: 'time', unit: 's', min: 0, max: PERIODS * period } as const,
      y: { words: `${where} ripple`, unit: 'V', min: middle - half, max: middle + half } as const,
      curves: [{ words: '', x: points.map(({ x }) => x), y: values, colour: '--trace-1', dash: [] }],
      regions:
        allowed === undefined
          ? []
          : [
              beyond(middle + allowed / 2, 'above', `allowed ${formatQuantity(allowed, 'V', 3)} peak to peak`),
              beyond(middle - allowed / 2, 'below', ''),
            ],
    };
  }, [traces, period, allowed, where]);
  return <CurveChart words={`Ripple of the ${where}`} {...picture} marks={NO_MARKS} of={corner} />;
}
