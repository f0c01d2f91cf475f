import { stageFromDocument } from './src/stage/readStage.js';
import { completeStage } from './src/stage/completeStage.js';
import { loopAt } from './src/smallsignal/loopResponse.js';
import { solveStage } from './src/steady/solveStage.js';
import { decibels } from './src/smallsignal/margins.js';
const base = (over: any, parts: any = {}, control: any = {}) => ({
  format: 'yundro-stage', version: 1, topology: 'buck', switchingFrequency: 500e3,
  targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 3.3, outputCurrent: { max: 12 } },
  parts: { inductor: { inductance: 2.2e-6, resistance: 0.005 }, outputCapacitors: [{ capacitance: 100e-6, esr: 0.003 }], inputCapacitors: [{ capacitance: 22e-6, esr: 0.003 }],
    highSide: { onResistance: 0.01 }, lowSide: { onResistance: 0.008 }, outputHighSide: { onResistance: 0.01 }, outputLowSide: { onResistance: 0.008 }, ...parts },
  control: { scheme: 'voltage-mode', reference: 0.6, rampAmplitude: 1, compensator: { network: 'type-3', components: { rUpper: 10e3, rLower: 2220, rZero: 3190, cZero: 8.32e-9, cPole: 2e-10, rFeedforward: 250, cFeedforward: 1.59e-9 } }, ...control },
  ...over,
});
const PCM = { scheme: 'peak-current-mode', currentSenseGain: 0.05, slopeCompensation: 1e5, compensator: { network: 'type-2', amplifier: { kind: 'ota', transconductance: 1e-3, outputResistance: 2e6 }, components: { rUpper: 45e3, rLower: 10e3, rZero: 11.1e3, cZero: 2.86e-9, cPole: 2.38e-11 } } };
const show = (name: string, doc: any, unrotate = false, load = 8) => {
  const read = stageFromDocument(doc); if (!read.ok) return console.log(name, JSON.stringify(read.problems));
  const made = completeStage(read.value); if (!made.ok) return console.log(name, JSON.stringify(made.problems));
  const condition = { inputVoltage: doc.targets.inputVoltage.max, load: { kind: 'current' as const, current: load } };
  let solved: any = solveStage(made.value, condition);
  if (solved.kind !== 'solved' && !solved.solution) return console.log(name, solved.reason);
  if (unrotate) solved = { powerStage: { ...solved.powerStage, rotation: { order: 1, next: new Map() } }, solution: solved.solution };
  const t = performance.now();
  const r = loopAt(made.value, condition, [5e3, 50e3, 200e3], solved);
  if (r.kind !== 'solved') return console.log(name, r.reason);
  const v = (m: any) => m.kind === 'found' ? m.value.toFixed(4) : 'none';
  console.log(name.padEnd(34), 'fc', v(r.crossover), 'pm', v(r.phaseMargin), 'gm', v(r.gainMargin), 'zo', r.outputImpedancePeak.impedance.toPrecision(6), r.points.map((p) => decibels(p.loop).toFixed(4)).join(' '), r.floquetMultipliers.slice(0, 4).map((m) => m.re.toFixed(4) + (m.im ? '±' + Math.abs(m.im).toFixed(4) : '')).join(' '), (performance.now() - t).toFixed(0) + 'ms');
};
show('buck', base({}));
show('buck, dead 20 ns', base({ deadTime: 20e-9 }));
show('buck, dead 0.01 ns', base({ deadTime: 1e-11 }));
for (const [n, c] of [['vm', {}], ['pcm', PCM]] as const) {
  for (const p of [2, 3, 4]) { show(`${n} ${p} phases`, base({ phases: p }, {}, c)); show(`${n} ${p} phases, whole`, base({ phases: p }, {}, c), true); }
  show(`${n} 4 phases, dead`, base({ phases: 4, deadTime: 20e-9 }, {}, c)); show(`${n} 4 phases, dead, whole`, base({ phases: 4, deadTime: 20e-9 }, {}, c), true);
  for (const p of [2, 4]) { const cp = { phases: p, coupling: { kind: 'inverse', coefficient: 0.4 } }; show(`${n} ${p} coupled`, base(cp, {}, c)); show(`${n} ${p} coupled, whole`, base(cp, {}, c), true); }
  show(`${n} 3 coupled`, base({ phases: 3, coupling: { kind: 'inverse', coefficient: 0.4 } }, {}, c));
  show(`${n} input filter + second`, base({}, { inputFilter: { inductance: 1e-6, resistance: 0.01, damping: { capacitance: 100e-6, resistance: 0.15 } }, outputFilter: { inductance: 100e-9, resistance: 0.002, capacitors: [{ kind: 'ceramic', capacitance: 47e-6, esr: 0.005, count: 1 }] } }, c));
}
const inv = base({ topology: 'inverting-buck-boost', targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: -3.3, outputCurrent: { max: 3 } } });
show('inverting', inv, false, 3);
show('inverting pcm', base({ topology: 'inverting-buck-boost', targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: -3.3, outputCurrent: { max: 3 } } }, {}, PCM), false, 3);
for (const vin of [2, 3.3, 12]) show('four-switch ' + vin, base({ topology: 'four-switch-buck-boost', deadTime: 20e-9, targets: { inputVoltage: { min: vin, max: vin }, outputVoltage: 3.3, outputCurrent: { max: 3 } } }), false, 3);
show('light load diode', base({ rectifier: 'diode' }, { diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 } }), false, 0.1);
show('full load diode', base({ rectifier: 'diode' }, { diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 } }), false, 8);
show('dead, negative valley', base({ deadTime: 20e-9 }), false, 0.2);
show('no dead, negative valley', base({}), false, 0.2);
show('opamp real', base({}, {}, { compensator: { network: 'type-3', amplifier: { kind: 'op-amp', openLoopGain: 1e4, gainBandwidth: 1e7 }, components: { rUpper: 10e3, rLower: 2220, rZero: 3190, cZero: 8.32e-9, cPole: 2e-10, rFeedforward: 250, cFeedforward: 1.59e-9 } } }));
show('ff', base({}, {}, { scheme: 'voltage-mode-feedforward' }));
