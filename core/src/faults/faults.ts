import type { Board } from '../board/boardRun.js';
import { driveVoltage } from '../losses/switchTerms.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { Stage } from '../stage/schema.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { topologyOf } from '../topology/topologies.js';
import type { SwitchPlace } from '../topology/topology.js';
import { GATE_SUPPLY } from '../transient/keptSignals.js';

/** Something that goes wrong with a board of this kind. @public */
export interface Fault {
  readonly key: string;
  readonly words: string;
  /** How it comes about, and what makes the picture it makes. */
  readonly explains: string;
  /** Where to look to be sure. */
  readonly surest: string;
  /** How to go on. */
  readonly mend: string;
  /** Why a stage cannot have it; undefined where it can. */
  readonly barred: (complete: CompleteStage) => string | undefined;
  /** From mild to bad, at which severities its picture is taken; several where it goes two ways. */
  readonly branches: readonly (readonly number[])[];
  /** Whether pulses alternate with it on some boards and not on others. */
  readonly wanders?: boolean;
  /**
   * @param severity 0 to 1: how bad it is, where it may be more or less.
   */
  readonly board: (complete: CompleteStage, severity: number) => Board;
}

const closesLoop = ({ stage }: CompleteStage): string | undefined =>
  stage.control.scheme === 'open-loop' || stage.control.compensator === undefined
    ? 'the stage has no loop: give it a compensator at the station Loop'
    : undefined;

const mainOf = ({ stage }: CompleteStage): SwitchPlace => topologyOf(stage).legs[0]?.main ?? 'highSide';
const rectifierOf = ({ stage }: CompleteStage): SwitchPlace => topologyOf(stage).legs[0]?.rectifier ?? 'lowSide';

/** Between `low` and `high`, by how bad it is. */
const between = (low: number, high: number, severity: number): number => low + (high - low) * severity;

/** V, of a threshold where the record states none. Common practice. */
const THRESHOLD = 2;
/** Where a switch breaks down, over its rating. Common practice. */
const BREAKDOWN = 1.15;
/** Of a shorted channel, ohm. */
const SHORTED = 0.005;

const scaledBanks = (stage: Stage, capacitance: number, esr: number): Stage => ({
  ...stage,
  parts: {
    ...stage.parts,
    outputCapacitors: (stage.parts.outputCapacitors ?? []).map((bank) => ({
      ...bank,
      capacitance: bank.capacitance * capacitance,
      esr: bank.esr * esr,
    })),
  },
});

const nominalDuty = (stage: Stage): number =>
  topologyOf(stage).operation({
    inputVoltage: nominalInput(stage),
    outputVoltage: stage.targets.outputVoltage,
    legsTogether: stage.legs === 'simultaneous',
  }).idealDuty;

/** V, that a high-side gate reaches without a supply above its source, less what the switch needs to carry current. */
const unaidedReach = ({ control, parts: { highSide } }: Stage): number =>
  ((highSide && driveVoltage(highSide, control.gateDriver)) ?? GATE_SUPPLY) - (highSide?.thresholdVoltage ?? THRESHOLD);

/** A, on the average in the inductor of each phase at full load and nominal input; the load's share where there is no steady state. */
function averagePhaseCurrent(complete: CompleteStage): number {
  const { stage } = complete;
  const { max } = stage.targets.outputCurrent;
  const found = operatingPoint(complete, {
    inputVoltage: nominalInput(stage),
    load: { kind: 'current', current: max },
  });
  return found.kind === 'solved' ? Math.abs(found.point.inductorCurrent.average) : max / stage.phases;
}

/** Where there is no more or less of it; where there is; where a value may be too small or too large. */
const ALIKE = [[0.5]];
const BY_DEGREES = [[0, 0.25, 0.5, 0.75, 1]];
const EITHER_WAY = [
  [0, 0.25, 0.49],
  [0.51, 0.75, 1],
];

/**
 * What goes wrong with a board of this kind, as a change of the stage or of its drawing. How bad each is lies within limits that are
 * common practice among those who repair boards; the pictures come out of the simulator.
 *
 * @public
 */
export const FAULTS: readonly Fault[] = [
  {
    key: 'main-drive',
    branches: ALIKE,
    words: 'main switch is not driven',
    explains:
      'The gate of the main switch gets no pulses: a driver without supply, an open gate resistor or a cold joint. Nothing is converted, and the switch node stands still.',
    surest: 'The gate of the main switch against its source, while the controller runs.',
    mend: 'Follow the pulse from the controller to the gate with the power off, then with the driver’s supply alone.',
    barred: () => undefined,
    board: (complete) => ({ stage: complete.stage, defect: { kind: 'never-closes', place: mainOf(complete) } }),
  },
  {
    key: 'rectifier-drive',
    branches: ALIKE,
    words: 'synchronous rectifier is not driven',
    explains:
      'The body diode of the rectifier carries the current for all of the off-time: the switch node goes a diode’s drop beyond its usual level, the stage works and the rectifier gets hot.',
    surest: 'The level of the switch node in the off-time, and the gate of the rectifier.',
    mend: 'Follow the pulse to the gate of the rectifier; a driver that has latched comes back with its supply.',
    barred: ({ stage }) =>
      stage.rectifier === 'diode' ? 'the stage rectifies with a diode, which has no gate' : undefined,
    board: (complete) => ({
      stage: { ...complete.stage, deadTime: Math.max(complete.stage.deadTime, 1e-9) },
      defect: { kind: 'never-closes', place: rectifierOf(complete) },
    }),
  },
  {
    key: 'shorted-low-side',
    branches: BY_DEGREES,
    words: 'low-side device is shorted',
    explains:
      'Drain and source have fused. With each pulse the main switch connects the input to it: the supply goes into its limit, the input falls, and nothing reaches the output.',
    surest:
      'With the power off: the resistance from the switch node to ground, some milliohms where there should be the winding only.',
    mend: 'Take the device off before power is put on again; the main switch has carried what the supply gave, and is to be measured too.',
    barred: () => undefined,
    board: (complete, severity) => ({
      stage: complete.stage,
      defect: {
        kind: 'shorted',
        place: 'lowSide',
        resistance: SHORTED * between(0.5, 2, severity),
      },
    }),
  },
  {
    key: 'open-feedback',
    branches: ALIKE,
    words: 'feedback is open',
    explains:
      'The controller does not see the output and asks for all it can: the duty ratio stands at its maximum, and the output goes where the input and the load let it. A stage that steps up runs to what its parts bear.',
    surest: 'The feedback pin: near ground, while the output is far above its value.',
    mend: 'Power off at once. Measure the way from the output through the upper divider resistor.',
    barred: closesLoop,
    board: ({ stage }) => ({
      stage: { ...stage, control: { ...stage.control, dutyMax: Math.min(stage.control.dutyMax, MOST_DUTY) } },
      defect: { kind: 'open-feedback' },
    }),
  },
  {
    key: 'saturated-choke',
    branches: BY_DEGREES,
    wanders: true,
    words: 'choke saturates',
    explains:
      'The core is too small, ungapped or hot: beyond its knee the inductance falls to a fraction, and the current shoots up at the end of each pulse. The output is regulated still; the peaks heat choke and switches.',
    surest: 'The current of the choke with a current probe: a straight ramp that bends upward.',
    mend: 'A choke with more saturation current, or a higher switching frequency; at less load the picture is as it should be.',
    barred: () => undefined,
    board: (complete, severity) => {
      const { stage, inductor } = complete;
      const each = averagePhaseCurrent(complete);
      const part = stage.parts.inductor ?? inductor;
      return {
        stage: {
          ...stage,
          parts: {
            ...stage.parts,
            inductor: {
              ...part,
              inductanceCurve: undefined,
              saturationCurrent: each * between(1.05, 0.9, severity),
              saturationDrop: 0.6,
            },
          },
        },
      };
    },
  },
  {
    key: 'dried-out-capacitor',
    branches: BY_DEGREES,
    wanders: true,
    words: 'output capacitor is dried out',
    explains:
      'The electrolyte is gone, or a joint has broken: little capacitance is left and its resistance is many times what it was. The ripple grows and takes the shape of the inductor current, the loop moves.',
    surest: 'Output ripple with a ground spring: its height and its shape.',
    mend: 'Replace the capacitor; look for what heated it.',
    barred: () => undefined,
    board: ({ stage }, severity) => ({
      stage: scaledBanks(stage, between(0.4, 0.15, severity), between(5, 12, severity)),
    }),
  },
  {
    key: 'swapped-diode',
    branches: ALIKE,
    words: 'diode is the wrong way round',
    explains:
      'It conducts when it should block: with each pulse the main switch connects the input to ground through it, and nothing carries the choke’s current when the switch opens.',
    surest: 'With the power off: the diode test of a meter across it, and the mark on its body.',
    mend: 'Take it off and look at the main switch too: both have carried what the supply gave.',
    barred: ({ stage }) => (stage.rectifier === 'diode' ? undefined : 'the stage has no diode of its own'),
    board: (complete) => ({
      stage: complete.stage,
      defect: {
        kind: 'reversed',
        place: rectifierOf(complete),
        breakdown:
          BREAKDOWN *
          (complete.stage.parts[mainOf(complete)]?.drainSourceVoltageMax ??
            2 * complete.stage.targets.inputVoltage.max),
      },
    }),
  },
  {
    key: 'subharmonic',
    branches: BY_DEGREES,
    wanders: true,
    words: 'subharmonic oscillation',
    explains:
      'Peak current control beyond half the period without enough slope compensation: a long pulse is followed by a short one. The average is right; the ripple is large and of half the switching frequency, and often it can be heard.',
    surest: 'The switch node over several periods: pulses that alternate.',
    mend: 'More slope compensation (the station Loop says how much), or less duty ratio.',
    barred: (complete) =>
      complete.stage.control.scheme !== 'peak-current-mode'
        ? 'it comes with peak current control only'
        : nominalDuty(complete.stage) <= 0.52
          ? 'the duty ratio at the nominal input is not above one half'
          : closesLoop(complete),
    board: ({ stage }, severity) => ({
      stage: {
        ...stage,
        control: { ...stage.control, slopeCompensation: stage.control.slopeCompensation * between(0.05, 0, severity) },
      },
    }),
  },
  {
    key: 'missing-bootstrap',
    branches: BY_DEGREES,
    words: 'bootstrap capacitor is missing',
    explains:
      'The driver of the high side has no supply above the switch node: the switch only follows its gate, and gives away the difference. The switch node does not reach the input, the output sags with all the duty ratio there is, and the switch gets very hot.',
    surest: 'The gate of the high side in the on-time: it should stand a driver’s supply above the input.',
    mend: 'Measure the capacitor and its diode; at a duty ratio near 1 it has no time to recharge.',
    barred: (complete) => {
      if (mainOf(complete) !== 'highSide') return 'the main switch stands on ground and needs no bootstrap';
      return complete.stage.targets.inputVoltage.min <= unaidedReach(complete.stage) + 0.5
        ? 'the input is so low that the gate reaches above it without a bootstrap'
        : undefined;
    },
    board: ({ stage }, severity) => {
      const drop = nominalInput(stage) - unaidedReach(stage) * between(1, 0.75, severity);
      return { stage, defect: { kind: 'follows', place: 'highSide', drop } };
    },
  },
  {
    key: 'ringing',
    branches: BY_DEGREES,
    words: 'switch node rings',
    explains:
      'A long loop of input capacitor and switches is an inductance that rings with the capacitance of the switch node: each edge goes far beyond its level. It radiates, and may break down a switch.',
    surest: 'The switch node with a ground spring: a long ground lead rings by itself and shows the same.',
    mend: 'A ceramic capacitor closer to the switches, a smaller loop; else a snubber (the station Switches sizes one) or slower edges.',
    barred: () => undefined,
    board: ({ stage }, severity) => {
      const inductance = between(8e-9, 20e-9, severity);
      const capacitance = 1.2e-9;
      // Lightly damped: 4 to 8 times the characteristic resistance in parallel.
      const resistance = between(4, 8, severity) * Math.sqrt(inductance / capacitance);
      return { stage, defect: { kind: 'rings', inductance, capacitance, resistance } };
    },
  },
  {
    key: 'current-limit',
    branches: BY_DEGREES,
    words: 'current limit cuts in',
    explains:
      'The limit is set too low, or its sense resistor is too large: pulses are cut short, and the output sags as soon as the load asks for more than the limit leaves.',
    surest: 'The current of the choke: peaks at one height, whatever the load; less load brings the output back.',
    mend: 'Check the sense resistor and what sets the limit against the peak current of the station Inductor.',
    barred: closesLoop,
    board: (complete, severity) => ({
      stage: {
        ...complete.stage,
        control: {
          ...complete.stage.control,
          currentLimit: averagePhaseCurrent(complete) * between(0.8, 0.5, severity),
        },
      },
    }),
  },
  {
    key: 'wrong-divider',
    branches: EITHER_WAY,
    words: 'feedback divider is wrong',
    explains:
      'A resistor of another value is mounted: everything works, and regulates another voltage. The feedback pin stands at the reference as it should.',
    surest: 'The feedback pin: at the reference, while the output is off.',
    mend: 'Measure the divider with the power off, and read the marks on its resistors.',
    barred: closesLoop,
    board: ({ stage }, severity) => {
      const { compensator } = stage.control;
      if (!compensator) return { stage };
      const { rUpper = 10e3 } = compensator.components;
      const factor = severity < 0.5 ? between(0.7, 0.85, 2 * severity) : between(1.12, 1.3, 2 * severity - 1);
      return {
        stage: {
          ...stage,
          control: {
            ...stage.control,
            compensator: { ...compensator, components: { ...compensator.components, rUpper: rUpper * factor } },
          },
        },
      };
    },
  },
];

/** The most a duty ratio goes to where nothing is stated: a high side must recharge its bootstrap. Common practice. */
const MOST_DUTY = 0.95;
