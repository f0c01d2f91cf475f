import { cautionsOf } from '../advice/cautions.js';
import type { Instruments } from '../instruments/instruments.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { nominalInput } from '../stage/nominalInput.js';
import { loopFrequencies } from '../smallsignal/loopResponse.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { topologyOf } from '../topology/topologies.js';
import { reachOf, type PlannedPoint, type Reach } from './reach.js';

/** A step of the plan. @public */
export interface PlanStep {
  readonly key:
    | 'before-power'
    | 'first-power'
    | 'no-load'
    | 'light-load'
    | 'thermal'
    | 'efficiency'
    | 'load-regulation'
    | 'line-regulation'
    | 'ripple'
    | 'load-step'
    | 'loop'
    | 'start-up'
    | 'short-circuit';
  readonly title: string;
  /** What to do, in order. */
  readonly does: readonly string[];
  /** What must be so before going on. */
  readonly goOn: readonly string[];
  readonly cautions: readonly string[];
  /** Points at which it is done, and whether the instruments reach them. */
  readonly points: readonly Reach[];
  /** What can be concluded all the same, where some are not reached. */
  readonly concludes: readonly string[];
}

const volts = (value: number, digits = 3): string => formatQuantity(value, 'V', digits);
const amps = (value: number): string => formatQuantity(value, 'A', 3);

/** Shares of full load at which efficiency is measured. Common practice. */
const LOADS = [0.05, 0.1, 0.25, 0.5, 0.75, 1];
/** Of the input's range, where light load is looked at first: a low input stresses the switches least. */
const LIGHT = 0.1;
/** The limit at first power, over what the unloaded stage draws: room for its start, not for a short. Common practice. */
const FIRST_LIMIT = 3;
/** A: below it a supply's limit is not to be set. */
const LEAST_LIMIT = 0.1;

/**
 * What to measure on a board and in which order, within what the instruments reach: resistance before power, power within a small limit,
 * no load, light load, heat, and then the tables. The order is common practice. Each point that is not reached is named with what comes
 * nearest and what can be concluded from that.
 *
 * @public
 */
export function testPlan(complete: CompleteStage, instruments: Instruments): readonly PlanStep[] {
  const { stage } = complete;
  const { targets, control } = stage;
  const nominal = nominalInput(stage);
  const full = targets.outputCurrent.max;
  const { min, max } = targets.inputVoltage;
  const inputs = [...new Set([min, nominal, max])];
  const set = targets.outputVoltage;
  // Several steps ask for the same points.
  const known = new Map<string, Reach>();
  const reach = (inputVoltage: number, outputCurrent: number): Reach => {
    const key = `${String(inputVoltage)} ${String(outputCurrent)}`;
    const found = known.get(key) ?? reachOf(complete, instruments, { inputVoltage, outputCurrent });
    known.set(key, found);
    return found;
  };
  const idle = operatingPoint(complete, { inputVoltage: min, load: { kind: 'current', current: 0 } });
  const quiescent = idle.kind === 'solved' ? idle.point.inputPower / min : 0;
  const firstLimit = Math.max(LEAST_LIMIT, FIRST_LIMIT * quiescent);
  const { inductor, legs } = complete;
  const boosts = topologyOf(stage).reach !== 'below';
  const stated = cautionsOf(stage).map(({ sentence }) => sentence);
  const oscilloscope = instruments.oscilloscope;

  const step = (key: PlanStep['key'], title: string, rest: Partial<Omit<PlanStep, 'key' | 'title'>>): PlanStep => ({
    key,
    title,
    does: [],
    goOn: [],
    cautions: [],
    points: [],
    concludes: [],
    ...rest,
  });
  const grid = (voltages: readonly number[], currents: readonly number[]): readonly Reach[] =>
    voltages.flatMap((inputVoltage) => currents.map((outputCurrent) => reach(inputVoltage, outputCurrent)));
  const concluded = (points: readonly Reach[], says: (cut: readonly Reach[]) => string): readonly string[] => {
    const cut = points.filter(({ reached }) => !reached);
    if (cut.length === 0) return [];
    return cut.length === points.length && cut.every(({ nearest }) => nearest === undefined)
      ? ['None of these points can be reached with these instruments: this step is left to others.']
      : [says(cut)];
  };

  const winding = formatQuantity(inductor.resistance, 'ohm', 2);
  const onResistances = legs
    .flatMap(({ main, rectifier }) => [
      main.onResistance,
      ...(rectifier.kind === 'switch' ? [rectifier.mosfet.onResistance] : []),
    ])
    .map((ohms) => formatQuantity(ohms, 'ohm', 2));

  const efficiency = grid(
    inputs,
    LOADS.map((share) => share * full),
  );
  const regulation = grid([nominal], [0, ...LOADS.map((share) => share * full)]);
  const line = grid(
    Array.from({ length: 5 }, (_, k) => min + ((max - min) * k) / 4),
    [full / 2],
  );
  const ripple = grid(inputs, [full]);
  const stepTarget = targets.loadStep;
  const stepped = stepTarget ? inputs.map((one) => reach(one, Math.max(stepTarget.from, stepTarget.to))) : [];
  const slew = stepTarget?.slewRate ?? Infinity;
  const highest = loopFrequencies(complete.switchingFrequency, 2).at(-1) ?? 0;
  const { analyser } = instruments;
  const loopPoints = grid([min, max], [full]);

  return [
    step('before-power', 'Before power', {
      does: [
        'Look at the board under a glass: bridges, polarity of electrolytic and tantalum capacitors, the marks of diodes and switches.',
        `With a meter, no supply connected: input to ground, output to ground, switch node to both. The meter’s own voltage charges the capacitors: wait until it stands.`,
        `Switch node to output${boosts ? ' (or to the input, where the choke is)' : ''}: the winding, ${winding} by the stage. Across each closed path ${[...new Set(onResistances)].join(', ')} only where a gate is driven; otherwise a body diode, 0.4 to 0.8 V one way and open the other.`,
        ...(control.reference !== undefined
          ? [`The divider: ${dividerWords(complete)}, read with one end lifted where the reading does not fit.`]
          : []),
      ],
      goOn: [
        'No path of less than some ohms from the input to ground, from the switch node to ground or to the input.',
      ],
      cautions: stated.slice(0, 3),
    }),
    step('first-power', 'First power, within a small limit', {
      does: [
        `Set the supply to ${volts(min)} and its limit to ${amps(firstLimit)} with its output off; no load on the board.`,
        'Switch the output on and look at the supply’s current before anything else.',
        `Expected: about ${amps(quiescent)} once it stands${control.softStartTime === undefined ? '' : `, after a soft start of ${formatQuantity(control.softStartTime, 's', 2)}`}, and ${volts(set, 4)} at the output.`,
      ],
      goOn: [
        `The supply leaves its limit by itself, and the output stands within ${percent(targets.outputVoltageTolerance ?? 0.02)} of ${volts(set, 4)}.`,
        'Nothing gets warm.',
      ],
      cautions: [
        'Power is switched on: eye protection; stand back from electrolytic and tantalum capacitors the first time.',
        ...(boosts
          ? [
              'Without its feedback a stage that steps up runs to what its parts bear: measure the divider before, and keep a resistor across the output.',
            ]
          : []),
        'What is set out here is common practice and no certificate; local rules and those of your workplace come first.',
      ],
      points: [reach(min, 0)],
    }),
    step('no-load', 'No load', {
      does: [
        `From ${volts(min)} to ${volts(max)} in a few steps, the limit following what is drawn.`,
        'Look at the switch node at each: the frequency, and that it does not ring beyond the rating of the switches.',
      ],
      goOn: ['The output does not move with the input by more than its tolerance.'],
      points: inputs.map((one) => reach(one, 0)),
    }),
    step('light-load', 'Light load', {
      does: [
        `${amps(LIGHT * full)} at ${volts(min)}, then at ${volts(max)}; raise the limit to a quarter more than is expected.`,
        'Compare each node with what is expected there.',
      ],
      goOn: ['Every node looks as it should: frequency, levels, no alternating pulses.'],
      points: inputs.map((one) => reach(one, LIGHT * full)),
    }),
    step('thermal', 'Heat', {
      does: [
        `Half load at ${volts(nominal)}, then full, ten minutes each: a camera, or a thermocouple on the hottest part (the station Efficiency names it).`,
        'Write the temperature into the log with the readings: what creeps by then is heat.',
      ],
      goOn: ['Temperatures stand, and are below what the parts bear with the warmest surroundings added.'],
      cautions: ['Parts and heatsinks burn the skin and may stand at the switch node’s potential: do not touch them.'],
      points: [reach(nominal, full / 2), reach(nominal, full)],
      concludes: concluded([reach(nominal, full)], (cut) => heatWords(complete, cut)),
    }),
    step('efficiency', 'Efficiency', {
      does: [
        'Voltages at the board’s own terminals (four wires), not at the supply and not at the load.',
        'From full load down, so that the board is warm from the first point on; one second or more at each.',
      ],
      points: efficiency,
      concludes: concluded(efficiency, (cut) => efficiencyWords(efficiency, cut)),
    }),
    step('load-regulation', 'Load regulation', {
      does: [`Output against load at ${volts(nominal)}, at the terminals of the board.`],
      points: regulation,
      concludes: concluded(
        regulation,
        (cut) =>
          `Regulation can be told up to ${amps(reachedLoad(regulation))}; what the loop leaves beyond goes on in a straight line as long as nothing limits, ${String(cut.length)} of ${String(regulation.length)} points being out of reach.`,
      ),
    }),
    step('line-regulation', 'Line regulation', {
      does: [`Output against input at ${amps(full / 2)}.`],
      points: line,
      concludes: concluded(
        line,
        () =>
          `Regulation can be told between the inputs that are reached; the controller sees no more of the input beyond.`,
      ),
    }),
    step('ripple', 'Ripple at full load', {
      does: [
        'Probe tip and ground spring across the output capacitor itself; 20 MHz limit on; alternating coupling.',
        'Once more with the ground lead, to see how much of a picture is the lead’s.',
      ],
      goOn:
        oscilloscope && oscilloscope.noise * 6 > (targets.outputRipple ?? Infinity) / 3
          ? [
              `The oscilloscope’s own noise, about ${volts(6 * oscilloscope.noise, 2)} peak to peak, is a good part of the ${volts(targets.outputRipple ?? 0, 2)} that are allowed: average sixteen sweeps.`,
            ]
          : [],
      points: ripple,
      concludes: [
        ...(oscilloscope ? [] : ['There is no oscilloscope: ripple is not measured.']),
        ...concluded(
          ripple,
          () =>
            'Output ripple of a stage that does not leave continuous conduction hardly depends on the load: at the nearest point it is the same within a few hundredths, where the output current is smooth. Where it is pulsed it goes with the load.',
        ),
      ],
    }),
    ...(stepTarget
      ? [
          step('load-step', 'Load step', {
            does: [
              `From ${amps(stepTarget.from)} to ${amps(stepTarget.to)} and back, ten times a second or less, at each input.`,
              'Trigger on the load’s current; look at some dozens of steps, since the instant within the period moves the dip.',
            ],
            points: stepped,
            concludes: [
              ...(instruments.load.slewRate < slew
                ? [
                    `The load moves at ${formatQuantity(instruments.load.slewRate, 'A/s', 2)}${Number.isFinite(slew) ? ` where the target has ${formatQuantity(slew, 'A/s', 2)}` : ', the target has a step at once'}: what is seen is milder than asked for. Compare it with the simulation at the load’s own rate; or switch a resistor with a MOSFET close to the output.`,
                  ]
                : []),
              ...concluded(
                stepped,
                () =>
                  'A smaller step is seen to scale with the linear prediction as long as the duty ratio and the current limit stay out of it; the large one is left to the simulation.',
              ),
            ],
          }),
        ]
      : []),
    step('loop', 'Loop by injection', {
      does: [
        'A small resistor (10 to 50 Ω) in series with the top of the divider, the transformer across it; probes on both sides of it.',
        'Lower the level until the picture no longer changes with it, near the crossover above all.',
      ],
      points: loopPoints,
      concludes: [
        ...(analyser
          ? analyser.to < highest / 2
            ? [
                `The analyser ends at ${formatQuantity(analyser.to, 'Hz', 3)}: margins are seen if the crossover lies below.`,
              ]
            : []
          : [
              'There is no response analyser: take the phase margin from the load step instead (overshoot and ring), or inject with a generator and read two channels.',
            ]),
        ...(control.compensator ? [] : ['The stage has no compensator yet: there is no loop to measure.']),
        ...concluded(loopPoints, () => 'The loop at the nearest point is compared with the loop calculated there.'),
      ],
    }),
    step('start-up', 'Start-up', {
      does: [
        `Output, inductor or input current and the switch node from enable on, without load and with ${amps(full)} as a resistance.`,
      ],
      goOn: ['The output rises without a bend and without overshoot beyond its tolerance.'],
      points: [reach(min, full), reach(max, full)],
      concludes: concluded(
        [reach(min, full), reach(max, full)],
        () =>
          'A supply in its limit makes steps of its own in the rise: use a capacitor across its terminals, or less load.',
      ),
    }),
    step('short-circuit', 'Short circuit', {
      does: [
        'With a switch or a relay and short leads, from light load; the current of the choke on the screen.',
        'Once, then feel for heat without touching; then for as long as it must bear.',
      ],
      goOn: ['The peak current stays below the saturation of the choke, and the stage comes back by itself.'],
      cautions: [
        'A short draws arcs and may throw hot metal: eye protection, nothing that burns near by, a fuse between supply and board.',
        ...(control.currentLimit === undefined && control.hiccup === undefined
          ? ['The stage states no current limit: do not short it.']
          : []),
      ],
      points: [reach(nominal, LIGHT * full)],
    }),
  ];
}

/** Largest load that is reached. */
const reachedLoad = (points: readonly Reach[]): number =>
  Math.max(
    0,
    ...points.map(({ reached, outputCurrent, nearest }) => (reached ? outputCurrent : (nearest?.outputCurrent ?? 0))),
  );

const percent = (ratio: number): string => `${(100 * ratio).toFixed(1).replace(/\.0$/, '')} %`;

function dividerWords({ stage }: CompleteStage): string {
  const { rUpper, rLower } = stage.control.compensator?.components ?? {};
  return rUpper !== undefined && rLower !== undefined
    ? `${formatQuantity(rUpper, 'ohm', 3)} above, ${formatQuantity(rLower, 'ohm', 3)} below`
    : 'its two resistors';
}

function heatWords(complete: CompleteStage, [cut]: readonly Reach[]): string {
  const { nearest } = cut ?? {};
  if (!cut || !nearest) return 'Heat at full load is not reached: the junction temperatures stay calculated.';
  const lossAt = ({ inputVoltage, outputCurrent }: PlannedPoint): number => {
    const found = operatingPoint(complete, { inputVoltage, load: { kind: 'current', current: outputCurrent } });
    return found.kind === 'solved' ? (found.point.losses['total'] ?? NaN) : NaN;
  };
  const ratio = lossAt(cut) / lossAt(nearest);
  return `At ${amps(nearest.outputCurrent)} and ${volts(nearest.inputVoltage)} the losses are smaller: full load makes ${ratio.toFixed(2)} times them by the calculation. Temperature rises go with the losses, so multiply what is measured; the resistances go up with heat on top of that.`;
}

function efficiencyWords(points: readonly Reach[], cut: readonly Reach[]): string {
  const shares = [...new Set(cut.map(({ inputVoltage }) => inputVoltage))].map((inputVoltage) => {
    const at = points.filter((one) => one.inputVoltage === inputVoltage);
    const reached = reachedLoad(at);
    return `${volts(inputVoltage)}: up to ${amps(reached)}`;
  });
  return `${String(points.length - cut.length)} of ${String(points.length)} points are reached (${shares.join('; ')}). From those the resistances and the losses that do not go with the load are fitted (Against the prediction), which says what the rest should be; what saturates or limits beyond is not seen.`;
}
