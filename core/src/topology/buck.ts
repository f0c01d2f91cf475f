import { GROUND, inductor } from '../circuit/elements.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { interleaved, type OperatingCondition, type PowerStage } from './powerStage.js';
import { capacitorBanks, inputSide, loadAt } from './surroundings.js';
import { switchCell } from './switchCell.js';

/**
 * The buck stage.
 *
 *     in ──highSide──┬── sw ──inductor── out ──┬── load
 *                    │                         │
 *                 lowSide              outputCapacitors
 *                    │                         │
 *     0 ─────────────┴─────────────────────────┴──
 */
export function buck(complete: CompleteStage, condition: OperatingCondition): PowerStage {
  const { stage, inductor: part } = complete;
  const vOut = stage.targets.outputVoltage;
  const phases = Array.from({ length: stage.phases }, (_, k) => {
    const sw = `sw${String(k + 1)}`;
    const name = `inductor${String(k + 1)}`;
    const cell = switchCell(complete, k, { mainFrom: 'in', mainTo: sw, rectifierFrom: GROUND, rectifierTo: sw });
    return {
      cell,
      sw,
      name,
      offset: k / stage.phases,
      choke: inductor(name, sw, 'out', part.inductance, part.resistance),
    };
  });
  const outputBanks = capacitorBanks('outputCapacitor', 'out', complete.outputCapacitors, vOut);
  return {
    circuit: {
      elements: [
        ...inputSide(complete, condition.inputVoltage),
        ...phases.flatMap(({ cell, choke }) => [...cell.elements, choke]),
        ...outputBanks,
        loadAt('out', condition, vOut),
      ],
      couplings: [],
    },
    phases: phases.map(({ cell, name, offset }) => ({ offset, inductor: name, intervals: cell.intervals })),
    rotation: interleaved(
      phases.map(({ cell, sw, name }) => [sw, name, ...cell.elements.map((element) => element.name)]),
    ),
    elements: {
      inductors: phases.map(({ name }) => name),
      outputBanks: outputBanks.map(({ name }) => name),
      inputBanks: complete.inputCapacitors.map((_, j) => `inputCapacitor${String(j + 1)}`),
      load: 'load',
      source: 'source',
      positions: { highSide: phases.map(({ cell }) => cell.main), lowSide: phases.map(({ cell }) => cell.rectifier) },
    },
    outputNode: 'out',
    switchNode: 'sw1',
    idealDuty: vOut / condition.inputVoltage,
  };
}
