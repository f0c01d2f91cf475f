import { USUAL_INSTRUMENTS, type Accuracy, type Instruments, type Unit } from '@yundro/core';
import { InlineQuantity } from '../fields/InlineQuantity';
import { Rare } from '../station/Rare';
import { useSetup } from './setup';

interface Line {
  readonly label: string;
  readonly unit: Unit;
  readonly value: number;
  readonly put: (value: number) => Instruments;
}

function Lines({ lines }: { readonly lines: readonly Line[] }) {
  const set = useSetup((setup) => setup.set);
  return lines.map(({ label, unit, value, put }) => (
    <div className="field" key={label}>
      <span>{label}</span>
      <span>
        <InlineQuantity
          label={label}
          unit={unit}
          value={value}
          onTake={(taken) => set({ instruments: put(Math.abs(taken)) })}
        />
      </span>
    </div>
  ));
}

/** The instruments at hand: their limits, and in the folds what they know how well. */
export function SetupFields() {
  const { instruments, serial, ambient, set } = useSetup();
  const { supply, load, oscilloscope, leads, analyser } = instruments;
  const put = (part: Partial<Instruments>): Instruments => ({ ...instruments, ...part });
  return (
    <fieldset>
      <legend>Instruments at hand</legend>
      <Lines
        lines={[
          {
            label: 'Supply ends at',
            unit: 'V',
            value: supply.voltageMax,
            put: (voltageMax) => put({ supply: { ...supply, voltageMax } }),
          },
          {
            label: 'and gives',
            unit: 'A',
            value: supply.currentMax,
            put: (currentMax) => put({ supply: { ...supply, currentMax } }),
          },
          {
            label: 'Load draws',
            unit: 'A',
            value: load.currentMax,
            put: (currentMax) => put({ load: { ...load, currentMax } }),
          },
          {
            label: 'and bears',
            unit: 'W',
            value: load.powerMax,
            put: (powerMax) => put({ load: { ...load, powerMax } }),
          },
        ]}
      />
      <div className="field">
        <label htmlFor="bench-serial">Board serial</label>
        <input
          id="bench-serial"
          className="inline-number"
          value={serial}
          onChange={({ target }) => set({ serial: target.value.slice(0, 120) })}
        />
      </div>
      <div className="field">
        <span>Ambient</span>
        <span>
          <InlineQuantity label="Ambient" unit="degC" value={ambient} onTake={(taken) => set({ ambient: taken })} />
        </span>
      </div>
      <Rare words="Oscilloscope, analyser, leads">
        <Lines
          lines={[
            ...(oscilloscope
              ? [
                  {
                    label: 'Bandwidth',
                    unit: 'Hz' as const,
                    value: oscilloscope.bandwidth,
                    put: (bandwidth: number) => put({ oscilloscope: { ...oscilloscope, bandwidth } }),
                  },
                  {
                    label: 'Noise, RMS',
                    unit: 'V' as const,
                    value: oscilloscope.noise,
                    put: (noise: number) => put({ oscilloscope: { ...oscilloscope, noise } }),
                  },
                ]
              : []),
            {
              label: 'Load’s slew rate',
              unit: 'A/s',
              value: load.slewRate,
              put: (slewRate) => put({ load: { ...load, slewRate } }),
            },
            {
              label: 'Lead from the supply',
              unit: 'ohm',
              value: leads.input,
              put: (input) => put({ leads: { ...leads, input } }),
            },
            {
              label: 'Lead to the load',
              unit: 'ohm',
              value: leads.output,
              put: (output) => put({ leads: { ...leads, output } }),
            },
          ]}
        />
        <label className="small d-block">
          <input
            type="checkbox"
            checked={analyser !== undefined}
            onChange={({ target }) => {
              set({ instruments: { ...instruments, analyser: target.checked ? { from: 10, to: 5e6 } : undefined } });
            }}
          />{' '}
          response analyser
        </label>
        <label className="small d-block">
          <input
            type="checkbox"
            checked={instruments.meters.inputVoltage !== undefined}
            onChange={({ target }) =>
              set({ instruments: { ...instruments, meters: target.checked ? USUAL_INSTRUMENTS.meters : {} } })
            }
          />{' '}
          meters at the board (four wires)
        </label>
      </Rare>
      <Accuracies />
    </fieldset>
  );
}

const METERED = [
  ['inputVoltage', 'Vin', 'V'],
  ['inputCurrent', 'Iin', 'A'],
  ['outputVoltage', 'Vout', 'V'],
  ['outputCurrent', 'Iout', 'A'],
] as const;

/** How well each reading is known, as its data sheet has it: limits of the error, of which uncertainties are made. */
function Accuracies() {
  const { instruments, set } = useSetup();
  const { meters, supply, load, oscilloscope } = instruments;
  const put = (part: Partial<Instruments>): void => set({ instruments: { ...instruments, ...part } });
  const lines: readonly AccuracyLine[] = [
    ...METERED.flatMap(([channel, words, unit]) => {
      const accuracy = meters[channel];
      return accuracy
        ? [{ words, unit, accuracy, take: (taken: Accuracy) => put({ meters: { ...meters, [channel]: taken } }) }]
        : [];
    }),
    ...(['voltage', 'current'] as const).flatMap((of): readonly AccuracyLine[] => {
      const unit = of === 'voltage' ? 'V' : 'A';
      return [
        {
          words: `supply, ${of}`,
          unit,
          accuracy: supply.readback[of],
          take: (taken) => put({ supply: { ...supply, readback: { ...supply.readback, [of]: taken } } }),
        },
        {
          words: `load, ${of}`,
          unit,
          accuracy: load.readback[of],
          take: (taken) => put({ load: { ...load, readback: { ...load.readback, [of]: taken } } }),
        },
      ];
    }),
  ];
  return (
    <Rare words="Accuracy of the readings">
      <p className="small">Limits, ±: of the reading, fixed, and one step of the display.</p>
      {lines.map(({ words, unit, accuracy, take }) => (
        <div key={words} className="accuracy small">
          <span>{words}</span>
          <InlineQuantity
            label={`${words}: of the reading`}
            unit="ratio"
            value={accuracy.ofReading}
            onTake={(ofReading) => take({ ...accuracy, ofReading: Math.min(0.2, Math.abs(ofReading)) })}
          />
          <InlineQuantity
            label={`${words}: fixed`}
            unit={unit}
            value={accuracy.fixed}
            onTake={(fixed) => take({ ...accuracy, fixed: Math.min(100, Math.abs(fixed)) })}
          />
          <InlineQuantity
            label={`${words}: step`}
            unit={unit}
            value={accuracy.resolution}
            onTake={(resolution) => take({ ...accuracy, resolution: Math.min(10, Math.abs(resolution)) })}
          />
        </div>
      ))}
      {oscilloscope && (
        <>
          <div className="accuracy small">
            <span>height on the screen</span>
            <InlineQuantity
              label="Oscilloscope: of the height"
              unit="ratio"
              value={oscilloscope.accuracy}
              onTake={(accuracy) =>
                put({ oscilloscope: { ...oscilloscope, accuracy: Math.min(0.2, Math.abs(accuracy)) } })
              }
            />
          </div>
          {oscilloscope.currentProbe && (
            <div className="accuracy small">
              <span>current probe</span>
              <InlineQuantity
                label="Current probe: of the reading"
                unit="ratio"
                value={oscilloscope.currentProbe.accuracy}
                onTake={(accuracy) =>
                  oscilloscope.currentProbe &&
                  put({
                    oscilloscope: {
                      ...oscilloscope,
                      currentProbe: { ...oscilloscope.currentProbe, accuracy: Math.min(0.2, Math.abs(accuracy)) },
                    },
                  })
                }
              />
            </div>
          )}
        </>
      )}
    </Rare>
  );
}

interface AccuracyLine {
  readonly words: string;
  readonly unit: Unit;
  readonly accuracy: Accuracy;
  readonly take: (taken: Accuracy) => void;
}
