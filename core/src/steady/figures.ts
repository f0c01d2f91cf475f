import type { Unit } from '../quantity/unit.js';
import { elementWords } from '../powerstage/elementWords.js';
import type { PowerStage } from '../powerstage/powerStage.js';
import type { Measure, NamedSignal } from '../orbit/measure.js';
import { currentOf, nodeVoltage, sumOf, voltageOf } from '../orbit/signal.js';

/** One reported number of an operating point that is read off a waveform. */
export interface Figure {
  /** Place in the operating point, for instance `inductorCurrent.ripple`. */
  readonly key: string;
  readonly quantity: string;
  /** TeX */
  readonly symbol: string;
  readonly unit: Unit;
  readonly measure: Measure;
}

const named = (symbol: string, name: string, signal: NamedSignal['signal']): NamedSignal => ({ symbol, name, signal });

/** The elements whose dissipation is reported together under one name of `losses`. */
export interface LossGroup {
  readonly key: string;
  readonly quantity: string;
  readonly elements: readonly string[];
  /** How often the stage has these elements: phases that are copies of each other lose alike. */
  readonly copies: number;
}

/** Every dissipating part of the stage, grouped as it is reported; together they are all of the losses. */
export function lossGroups({ elements, circuit, rotation }: PowerStage): readonly LossGroup[] {
  const groups: LossGroup[] = [];
  const taken = new Set([elements.load, elements.source, 'feed']);
  const group = (key: string, quantity: string, names: readonly string[], copies = 1): void => {
    for (const name of names) taken.add(name);
    groups.push({ key, quantity, elements: names.slice(0, names.length / copies), copies });
  };
  const ofPhases = (key: string, quantity: string, names: readonly string[]): void =>
    group(key, quantity, names, rotation.order);
  for (const [position, devices] of Object.entries(elements.positions)) {
    const { words } = elementWords(position);
    const bodies = devices.flatMap(({ bodyDiode }) => (bodyDiode === undefined ? [] : [bodyDiode]));
    ofPhases(
      `${position}Conduction`,
      `${words} conduction loss`,
      devices.map(({ device }) => device),
    );
    if (bodies.length > 0) ofPhases(`${position}BodyDiode`, `${words} body diode loss`, bodies);
  }
  ofPhases('inductorCopper', 'inductor copper loss', elements.inductors);
  if (elements.senseResistors.length > 0) ofPhases('senseResistor', 'sense resistor loss', elements.senseResistors);
  group('outputCapacitorEsr', 'output capacitor ESR loss', elements.outputBanks);
  if (elements.inputBanks.length > 0) group('inputCapacitorEsr', 'input capacitor ESR loss', elements.inputBanks);
  if (elements.controller.length > 0)
    group('feedbackNetwork', 'loss of the divider and what hangs on it', elements.controller);
  for (const { name } of circuit.elements)
    if (!taken.has(name)) group(name, `${elementWords(name).words} loss`, [name]);
  return groups;
}

/** Every figure of the operating point that is measured on a waveform, for the stage at hand. */
export function figuresOf(powerStage: PowerStage): readonly Figure[] {
  const { elements, outputNode } = powerStage;
  const inductor = named('i_{L}', 'inductor current of phase 1', currentOf(elements.inductors[0] ?? ''));
  const summed = named('i_{\\Sigma}', 'sum of the inductor currents', sumOf(elements.inductors.map(currentOf)));
  const vOut = named('v_\\mathrm{out}', 'output voltage', nodeVoltage(outputNode));
  const vIn = named('v_\\mathrm{in}', 'voltage at the input of the stage', nodeVoltage('in'));
  const supply = named('i_\\mathrm{in}', 'input current', (equations) =>
    currentOf(elements.source)(equations).map((value) => -value),
  );
  const load = named('i_\\mathrm{out}', 'load current', currentOf(elements.load));
  const loadVoltage = named('v_\\mathrm{load}', 'voltage across the load', voltageOf(elements.load));
  const source = named('v_\\mathrm{src}', 'source voltage', voltageOf(elements.source));
  const inputBanks = named(
    'i_{C\\mathrm{in}}',
    'current of all input capacitors',
    sumOf(elements.inputBanks.map(currentOf)),
  );
  const outputBanks = named(
    'i_{C\\mathrm{out}}',
    'current of all output capacitors',
    sumOf(elements.outputBanks.map(currentOf)),
  );
  const figure = (key: string, quantity: string, symbol: string, unit: Unit, measure: Measure): Figure => ({
    key,
    quantity,
    symbol,
    unit,
    measure,
  });
  const bank = (side: 'input' | 'output', name: string, j: number): Figure =>
    figure(
      `${side}CapacitorBanks[${String(j)}].rms`,
      `RMS current of ${side} capacitor bank ${String(j + 1)}`,
      `I_{C${String(j + 1)},\\mathrm{rms}}`,
      'A',
      {
        kind: 'rms',
        of: named(`i_{C${String(j + 1)}}`, `current of ${side} capacitor bank ${String(j + 1)}`, currentOf(name)),
      },
    );
  return [
    figure('outputVoltage', 'output voltage', 'V_\\mathrm{out}', 'V', { kind: 'average', of: vOut }),
    figure('outputCurrent', 'load current', 'I_\\mathrm{out}', 'A', { kind: 'average', of: load }),
    figure('inductorCurrent.average', 'average inductor current', 'I_L', 'A', { kind: 'average', of: inductor }),
    figure('inductorCurrent.peak', 'peak inductor current', '\\hat I_L', 'A', { kind: 'max', of: inductor }),
    figure('inductorCurrent.valley', 'valley inductor current', '\\check I_L', 'A', { kind: 'min', of: inductor }),
    figure('inductorCurrent.ripple', 'inductor ripple current', '\\Delta I_L', 'A', {
      kind: 'peak-to-peak',
      of: inductor,
    }),
    figure('inductorCurrent.rms', 'inductor RMS current', 'I_{L,\\mathrm{rms}}', 'A', { kind: 'rms', of: inductor }),
    figure('totalInductorRipple', 'ripple of the summed inductor currents', '\\Delta I_\\Sigma', 'A', {
      kind: 'peak-to-peak',
      of: summed,
    }),
    figure('outputRipple', 'output ripple', '\\Delta V_\\mathrm{out}', 'V', { kind: 'peak-to-peak', of: vOut }),
    figure('inputRipple', 'input ripple', '\\Delta V_\\mathrm{in}', 'V', { kind: 'peak-to-peak', of: vIn }),
    figure('inputCurrent', 'input current', 'I_\\mathrm{in}', 'A', { kind: 'average', of: supply }),
    figure(
      'inputCapacitorRms',
      'input capacitor RMS current',
      'I_{\\mathrm{Cin,rms}}',
      'A',
      elements.inputBanks.length > 0 ? { kind: 'rms', of: inputBanks } : { kind: 'alternating-rms', of: supply },
    ),
    ...elements.inputBanks.map((name, j) => bank('input', name, j)),
    figure('outputCapacitorRms', 'output capacitor RMS current', 'I_{\\mathrm{Cout,rms}}', 'A', {
      kind: 'rms',
      of: outputBanks,
    }),
    ...elements.outputBanks.map((name, j) => bank('output', name, j)),
    ...Object.entries(elements.positions).flatMap(([position, devices]) => {
      const { words, mark } = elementWords(position);
      const device = devices[0]?.device ?? '';
      const current = named(`i_\\mathrm{${mark}}`, `current of the ${words}`, currentOf(device));
      const voltage = named(`v_\\mathrm{${mark}}`, `voltage across the ${words}`, voltageOf(device));
      return [
        figure(`switchStress.${position}.voltage`, `${words} voltage`, `\\hat V_\\mathrm{${mark}}`, 'V', {
          kind: 'magnitude',
          of: voltage,
        }),
        figure(`switchStress.${position}.peakCurrent`, `${words} peak current`, `\\hat I_\\mathrm{${mark}}`, 'A', {
          kind: 'magnitude',
          of: current,
        }),
        figure(`switchStress.${position}.rmsCurrent`, `${words} RMS current`, `I_\\mathrm{${mark},rms}`, 'A', {
          kind: 'rms',
          of: current,
        }),
      ];
    }),
    ...lossGroups(powerStage).map((group) =>
      figure(`losses.${group.key}`, group.quantity, 'P', 'W', {
        kind: 'power',
        copies: group.copies,
        of: group.elements.map((name) => ({
          voltage: named('v', `voltage across ${name}`, voltageOf(name)),
          current: named('i', `current of ${name}`, currentOf(name)),
        })),
      }),
    ),
    figure('outputPower', 'output power', 'P_\\mathrm{out}', 'W', {
      kind: 'power',
      copies: 1,
      of: [{ voltage: loadVoltage, current: load }],
    }),
    figure('inputPower', 'input power', 'P_\\mathrm{in}', 'W', {
      kind: 'power',
      copies: 1,
      of: [{ voltage: source, current: supply }],
    }),
  ];
}
