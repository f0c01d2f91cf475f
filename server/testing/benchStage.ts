import { benchStage } from '../../core/testing/benchStages.js';

/** The 12 to 7.5 V stage that the core's tests of the bench are about, as a stage file. */
export const benchBuck = benchStage().stage;
