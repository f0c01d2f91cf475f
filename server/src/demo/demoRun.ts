import {
  asBuilt,
  BenchBoard,
  completeStage,
  InstrumentErrors,
  USUAL_INSTRUMENTS,
  type BenchRun,
  type Instruments,
  type Stage,
} from '@yundro/core';

/** Board of the demo's log, and the shares of full load at which it was read. */
const SEED = 7;
const LOADS = [1, 0.75, 0.5, 0.25, 0.1, 0.05];

/**
 * A log of the demo: efficiency of one simulated board, built within the tolerances of its stage, read by instruments whose supply gives
 * too little for full load at the lowest input. The lines it cuts short are kept, as they would be.
 */
export function demoRun(stage: Stage): BenchRun | undefined {
  const complete = completeStage(stage);
  if (!complete.ok) return undefined;
  const instruments: Instruments = {
    ...USUAL_INSTRUMENTS,
    supply: { ...USUAL_INSTRUMENTS.supply, voltageMax: 32, currentMax: 4.5 },
  };
  const { inputVoltage, outputCurrent } = stage.targets;
  const points = [inputVoltage.min, inputVoltage.nominal ?? inputVoltage.max, inputVoltage.max].flatMap((volts) =>
    LOADS.map((share) => ({ inputVoltage: volts, outputCurrent: share * outputCurrent.max })),
  );
  const board = new BenchBoard(asBuilt(complete.value, SEED).stage, { input: 0.024, output: 0.011 }, 23);
  const errors = new InstrumentErrors(instruments, SEED);
  const readings = points.map(({ inputVoltage: voltage, outputCurrent: value }, k) => ({
    ...errors.reading(
      board.at({ on: true, voltage, limit: instruments.supply.currentMax }, { on: true, mode: 'current', value }),
    ),
    at: 12 * k,
  }));
  return {
    kind: 'efficiency',
    title: 'Efficiency',
    serial: 'HB-007',
    date: '2026-11-12T09:30:00.000Z',
    ambient: 23,
    notes: 'Simulated board and instruments of the demonstration.',
    instruments,
    points,
    readings,
    captures: [],
    pictures: [],
    state: 'done',
    problem: null,
  };
}
