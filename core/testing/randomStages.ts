import fc from 'fast-check';

const between = (min: number, max: number) =>
  fc.double({ min: Math.log(min), max: Math.log(max), noNaN: true }).map((x) => Math.exp(x));

/** Random stages of every topology: values within what the schema allows and a designer might type, good or poor. */
export const randomStages = fc
  .record({
    topology: fc.constantFrom('buck', 'boost', 'inverting-buck-boost', 'four-switch-buck-boost'),
    rectifier: fc.constantFrom('synchronous', 'diode'),
    phases: fc.constantFrom(1, 1, 1, 1, 2, 4),
    legs: fc.constantFrom('regions', 'simultaneous'),
    vIn: between(2, 200),
    ratio: between(0.05, 12),
    load: between(0.01, 60),
    fSw: between(20e3, 3e6),
    rippleRatio: between(0.05, 3),
    holdUp: between(2, 500),
    ohms: between(1e-5, 0.08),
    esrShare: fc.constantFrom(0, 0.1, 1, 5),
    esl: fc.constantFrom(0, 0.3e-9, 2e-9),
    deadShare: fc.constantFrom(0, 0, 0.01, 0.03),
    banks: fc.constantFrom(1, 2),
    inputBanks: fc.constantFrom(0, 1),
    filter: fc.boolean(),
    second: fc.boolean(),
    source: fc.constantFrom(0, 1e-3),
    coupled: fc.constantFrom('none', 'none', 'inverse', 'direct'),
    dutyMax: fc.constantFrom(1, 0.95, 0.6),
    resistive: fc.boolean(),
  })
  .map((r) => {
    const ratio =
      r.topology === 'buck'
        ? Math.min(r.ratio, 1 / r.ratio, 0.97)
        : r.topology === 'boost'
          ? Math.max(r.ratio, 1 / r.ratio, 1.03)
          : r.ratio;
    const vOut = (r.topology === 'inverting-buck-boost' ? -1 : 1) * r.vIn * ratio;
    const boosted = r.topology === 'buck' ? 1 : 1 + ratio;
    const iL = (r.load * boosted) / r.phases;
    const load = Math.abs(vOut) / r.load;
    const inductance = Math.min(1, Math.max(1e-9, r.vIn / (r.fSw * r.rippleRatio * iL)));
    const capacitance = Math.min(1, Math.max(1e-9, r.holdUp / (load * r.fSw)));
    const ohms = (r.ohms * r.vIn) / iL;
    const mosfet = { onResistance: Math.min(900, ohms) };
    return {
      condition: {
        vIn: r.vIn,
        load: r.resistive
          ? ({ kind: 'resistance', resistance: load } as const)
          : ({ kind: 'current', current: r.load } as const),
      },
      document: {
        format: 'yundro-stage',
        version: 1,
        topology: r.topology,
        rectifier: r.rectifier,
        phases: r.phases,
        ...(r.topology === 'four-switch-buck-boost' && { legs: r.legs }),
        ...(r.phases > 1 && r.coupled !== 'none' && { coupling: { kind: r.coupled, coefficient: 0.4 } }),
        switchingFrequency: r.fSw,
        deadTime: r.deadShare / r.fSw,
        targets: { inputVoltage: { min: r.vIn, max: r.vIn }, outputVoltage: vOut, outputCurrent: { max: r.load } },
        parts: {
          inductor: { inductance, resistance: Math.min(900, ohms) },
          outputCapacitors: Array.from({ length: r.banks }, (_, j) => ({
            capacitance: capacitance * (j + 1),
            esr: Math.min(900, (ohms * r.esrShare) / (j + 1)),
            esl: r.esl * j,
          })),
          inputCapacitors: Array.from({ length: r.inputBanks }, () => ({
            capacitance,
            esr: Math.min(900, ohms * r.esrShare),
          })),
          highSide: mosfet,
          lowSide: mosfet,
          outputHighSide: mosfet,
          outputLowSide: mosfet,
          diode: { forwardVoltage: Math.min(1, 0.03 * r.vIn), dynamicResistance: Math.min(900, ohms) },
          ...(r.source > 0 && { source: { resistance: r.source, inductance: inductance / 50 } }),
          ...(r.filter &&
            r.inputBanks > 0 && {
              inputFilter: {
                inductance: inductance / 10,
                resistance: 0.001,
                damping: { capacitance: 4 * capacitance, resistance: 0.1 },
              },
            }),
          ...(r.second && {
            outputFilter: {
              inductance: inductance / 20,
              resistance: Math.min(900, ohms / 10),
              capacitors: [{ capacitance, esr: Math.min(900, ohms / 2) }],
            },
          }),
        },
        control: { dutyMax: r.dutyMax },
      },
    };
  });
