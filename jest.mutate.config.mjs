/** For mutation testing: the fast tests of the core alone; the long sweeps and validations run in `npm test`. */
import base from './jest.config.mjs';

const [core] = base.projects;

export default {
  ...core,
  rootDir: 'core',
  // Minutes long, and run against every mutant they reach.
  testPathIgnorePatterns: [
    'everyTopology',
    'validation/',
    'losses/losses\\.test',
    'operatingMode\\.test',
    'schematic\\.test',
  ],
};
