import type { Instruments, Unit } from '@yundro/core';
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
            onChange={({ target }) => set({ instruments: { ...instruments, meters: target.checked ? METERS : {} } })}
          />{' '}
          meters at the board (four wires)
        </label>
      </Rare>
    </fieldset>
  );
}

/** Meters as those of the usual bench. */
const METER = { ofReading: 3e-4, fixed: 1e-3, resolution: 1e-4 };
const AMMETER = { ofReading: 1e-3, fixed: 1e-3, resolution: 1e-4 };
const METERS: Instruments['meters'] = {
  inputVoltage: METER,
  inputCurrent: AMMETER,
  outputVoltage: METER,
  outputCurrent: AMMETER,
};
