import { completeStage } from '../stage/completeStage.js';
import { stageSchema, type StageInput } from '../stage/schema.js';
import { powerStageOf } from '../powerstage/powerStageOf.js';
import { TOPOLOGIES, type TopologyName } from '../topology/topologies.js';
import { schematicOf, type Schematic } from './schematic.js';

/** A conversion that every reach can do, V: the values do not show. */
const LOWER = 5;
const HIGHER = 10;
/** Parts of some value: only what joins them is drawn. */
const SWITCH = { onResistance: 0.01 };
const PARTS: StageInput['parts'] = {
  inductor: { inductance: 1e-6, resistance: 0.01 },
  outputCapacitors: [{ kind: 'ceramic', capacitance: 1e-5, esr: 1e-3, esl: 0, count: 1 }],
  inputCapacitors: [{ kind: 'ceramic', capacitance: 1e-5, esr: 1e-3, esl: 0, count: 1 }],
  highSide: SWITCH,
  lowSide: SWITCH,
  outputHighSide: SWITCH,
  outputLowSide: SWITCH,
  diode: { forwardVoltage: 0.5, dynamicResistance: 0.01 },
};

/** A topology as a drawing by itself, from its own circuit, with no stage of it worked: for a miniature. @public */
export function formDrawing(topology: TopologyName, rectifier: 'synchronous' | 'diode'): Schematic {
  const { reach, sign } = TOPOLOGIES[topology];
  const inputVoltage = reach === 'below' ? HIGHER : LOWER;
  const outputVoltage = sign * (reach === 'below' ? LOWER : HIGHER);
  const stage = stageSchema.parse({
    format: 'yundro-stage',
    version: 1,
    topology,
    rectifier,
    switchingFrequency: 1e6,
    targets: {
      inputVoltage: { min: inputVoltage, max: inputVoltage },
      outputVoltage,
      outputCurrent: { min: 0, max: 1 },
    },
    parts: PARTS,
  });
  const complete = completeStage(stage);
  if (!complete.ok) throw new Error(`The drawing of ${topology} lacks a part.`);
  return schematicOf(powerStageOf(complete.value, { inputVoltage, load: { kind: 'current', current: 1 } }), 0);
}
