import { nominalInput, type BenchCondition, type Stage } from '@yundro/core';

/** Room that a supply's limit has over what the stage draws at its lowest input and full load. Common practice. */
const ROOM = 1.6;

/** How a board is looked at on the bench: nominal input and full load, the supply's limit somewhat above what that draws. */
export function benchCondition(stage: Stage, share = 1): Required<BenchCondition> {
  const { outputVoltage, outputCurrent, inputVoltage } = stage.targets;
  const power = Math.abs(outputVoltage) * outputCurrent.max;
  return {
    inputVoltage: nominalInput(stage),
    supplyLimit: Number(((ROOM * power) / inputVoltage.min).toPrecision(3)),
    loadResistance: Math.abs(outputVoltage) / (share * outputCurrent.max),
  };
}
