import { UnsolvableCircuitError } from '../circuit/unsolvable.js';
import { forwardVoltageOf } from '../orbit/diodeRow.js';
import { withBands } from './biasBands.js';
import { CELL, Configuration, valueOf } from './configuration.js';
import type { PhaseState } from './phaseState.js';
import { ROUNDING, type Running } from './running.js';
import { SHORT, type SimulatedStage } from './simulatedStage.js';

/** Share of its usual size by which an inductor current may jump as a configuration is entered. */
const JUMP = 1e-4;

/**
 * Which switches and diodes conduct. The switches are driven; of the diodes those conduct with which every one does what it must, what
 * conducts carrying a current forward and what blocks not driven beyond its forward voltage, and with which no inductor current jumps.
 */
export class Commutation {
  /** Forward voltage of each diode, V. */
  readonly forward: ReadonlyMap<string, number>;
  /** In how many ways a phase can be driven and conduct. */
  private readonly codes: number;
  private placed = false;
  private readonly jumped: Float64Array;

  constructor(private readonly run: Running) {
    const { circuits, phases } = run.drawn;
    this.jumped = new Float64Array(run.layout.size);
    this.forward = new Map(
      phases.flatMap(({ diodes }) => diodes.map((name) => [name, forwardVoltageOf(circuits.free, name)] as const)),
    );
    this.codes = Math.max(...phases.map(({ legs, diodes }) => 3 ** legs.length * 2 ** diodes.length), 1);
  }

  private closedBy(k: number, i: number): readonly string[] {
    const leg = (this.run.phases[k] as PhaseState).legs[i];
    const cell = this.run.drawn.phases[k]?.legs[i]?.cell;
    if (!leg || !cell || leg.settles > this.run.tick || leg.target === 'idle') return [];
    return leg.target === 'on' ? cell.on : cell.off;
  }

  /** The configuration of the switches as they are driven, with the diodes as they are or those of one phase otherwise. */
  private configurationWith(changed = -1, mask = 0): Configuration | UnsolvableCircuitError {
    const { codes } = this;
    const { phases, drawn, tick, amplifier, shorted, bands } = this.run;
    const numbered = bands.length === 0 && codes ** phases.length < 2 ** 48;
    let number = (amplifier === 'free' ? 0 : amplifier === 'low' ? 1 : 2) + (shorted ? 3 : 0);
    let text = bands.join(' ');
    for (let k = 0; k < phases.length; k += 1) {
      const phase = phases[k] as PhaseState;
      let code = k === changed ? mask : phase.conducting;
      for (const leg of phase.legs)
        code = code * 3 + (leg.settles > tick || leg.target === 'idle' ? 0 : leg.target === 'on' ? 1 : 2);
      if (numbered) number = number * codes + code;
      else text += `,${String(code)}`;
    }
    const key = numbered ? number : `${String(number)}${text}`;
    const known = drawn.configurations.get(key);
    if (known) return known;
    const conducting = phases.flatMap((phase, k) => [
      ...phase.legs.flatMap((_, i) => this.closedBy(k, i)),
      ...(drawn.phases[k]?.diodes ?? []).filter((_, d) => ((k === changed ? mask : phase.conducting) >> d) & 1),
    ]);
    const made = this.made(new Set([...conducting.sort(), shorted ? SHORT : 'load']));
    drawn.configurations.set(key, made);
    return made;
  }

  /** A configuration, or why there can be none: diodes without a resistance beside a closed switch without one, say. */
  private made(conducting: ReadonlySet<string>): Configuration | UnsolvableCircuitError {
    const { drawn, layout, tickTime, amplifier, bands } = this.run;
    const { circuits, powerStage, ramp, saturating, biased } = drawn;
    try {
      return new Configuration(
        withBands(circuits[amplifier], biased, bands),
        conducting,
        layout,
        CELL * tickTime,
        powerStage.outputNode,
        ramp,
        saturating,
      );
    } catch (error) {
      if (error instanceof UnsolvableCircuitError) return error;
      throw error;
    }
  }

  /** The state as a configuration is entered; where it jumps, in a vector that is used again. */
  private entered(configuration: Configuration): Float64Array {
    const { entry } = configuration;
    const { z, layout } = this.run;
    if (!entry) return z;
    const { active, size } = layout;
    const { jumped: out } = this;
    out.set(z);
    for (let i = 0; i < active; i += 1) {
      let sum = 0;
      for (let j = 0; j < size; j += 1) sum += (entry[i * size + j] as number) * (z[j] as number);
      out[i] = sum;
    }
    return out;
  }

  /** How wrong the diodes of a phase would be in a configuration: 0 where each does what it must. */
  private wrongness(k: number, mask: number, configuration: Configuration): number {
    const { inductor, diodes } = this.run.drawn.phases[k] as SimulatedStage['phases'][number];
    const after = this.entered(configuration);
    const row = configuration.current(inductor);
    const amps = ROUNDING * this.run.scale.current;
    const volts = ROUNDING * this.run.scale.voltage;
    const before = valueOf(this.placed ? this.run.configuration.current(inductor) : row, this.run.z);
    const jump = Math.abs(valueOf(row, after) - before) / this.run.scale.current;
    let wrong = jump > JUMP ? jump : 0;
    diodes.forEach((name, d) => {
      const conducts = (mask >> d) & 1;
      const own = conducts ? configuration.current(name) : configuration.voltage(name);
      const forward = conducts ? 0 : (this.forward.get(name) ?? 0);
      const value = conducts ? -valueOf(own, after) : valueOf(own, after) - forward;
      const tolerance = conducts ? amps : volts;
      const scale = conducts ? this.run.scale.current : this.run.scale.voltage;
      if (value > tolerance) wrong += value / scale;
      else if (value > -tolerance) {
        const slope = valueOf(configuration.slopeOf(own), after) * (conducts ? -1 : 1);
        if (slope * this.run.tickTime > tolerance * 1e-3) wrong += ROUNDING;
      }
    });
    return wrong;
  }

  /** Let the diodes find who conducts, phase by phase. Returns the configuration to enter, with the state as it is entered. */
  place(): { readonly configuration: Configuration; readonly z: Float64Array } {
    const { phases, drawn } = this.run;
    for (let round = 0; round < 2; round += 1) {
      let moved = false;
      for (let k = 0; k < phases.length; k += 1) {
        const phase = phases[k] as PhaseState;
        const count = drawn.phases[k]?.diodes.length ?? 0;
        if (count === 0) continue;
        let best = phase.conducting;
        let least = Infinity;
        for (let difference = 0; difference < 1 << count; difference += 1) {
          const mask = phase.conducting ^ difference;
          const tried = this.configurationWith(k, mask);
          const wrong = tried instanceof UnsolvableCircuitError ? Infinity : this.wrongness(k, mask, tried);
          if (wrong < least) {
            best = mask;
            least = wrong;
          }
          if (wrong === 0) break;
        }
        if (best !== phase.conducting) {
          phase.conducting = best;
          moved = true;
        }
      }
      if (!moved) break;
    }
    const first = !this.placed;
    const configuration = this.standing();
    const stays = !first && configuration === this.run.configuration;
    const z = stays ? this.run.z : this.entered(configuration);
    return { configuration, z: z === this.jumped ? z.slice() : z };
  }

  /** The configuration of switches and diodes as they are. */
  standing(): Configuration {
    const configuration = this.configurationWith();
    if (configuration instanceof UnsolvableCircuitError) throw configuration;
    this.placed = true;
    return configuration;
  }
}
