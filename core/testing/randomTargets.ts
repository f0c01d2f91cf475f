import { random } from '../src/tolerance/random.js';

/** Targets anywhere within what the records can do, and a little beyond. */
export function randomTargets(seed: number): object {
  const next = random(seed);
  const pick = <T>(of: readonly T[]): T => of[Math.floor(next() * of.length)] as T;
  const topology = pick(['buck', 'boost', 'inverting-buck-boost', 'four-switch-buck-boost']);
  const input = 5 * (60 / 5) ** next();
  const ratio = topology === 'buck' ? 0.1 + 0.6 * next() : topology === 'boost' ? 1.4 + 1.6 * next() : 0.5 + next();
  const output = input * ratio;
  const watts = 3 * (120 / 3) ** next();
  const current = watts / output;
  const deviation = 0.04 * output;
  return {
    topology,
    rectifier: topology !== 'four-switch-buck-boost' && next() < 0.25 ? 'diode' : 'synchronous',
    control: { scheme: pick(['voltage-mode', 'peak-current-mode']), reference: Math.min(0.8, output / 2) },
    targets: {
      inputVoltage: { min: 0.85 * input, nominal: input, max: 1.15 * input },
      outputVoltage: topology === 'inverting-buck-boost' ? -output : output,
      outputCurrent: { min: 0.05 * current, max: current },
      outputRipple: 0.01 * output,
      inputRipple: 0.03 * input,
      loadStep: { from: 0.25 * current, to: 0.75 * current, slewRate: 1e6, deviation },
      phaseMargin: 45,
      switchingFrequency: { min: 150e3, max: 600e3 },
    },
  };
}
