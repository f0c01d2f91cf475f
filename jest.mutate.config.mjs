/** For mutation testing: the tests of the folder that is changed, but for those that take minutes and run in `npm test`. */
import base from './jest.config.mjs';

const [core] = base.projects;

export default {
  ...core,
  rootDir: 'core',
  testMatch: [`<rootDir>/src/${process.env.MUTATED_FOLDER ?? '**'}/*.test.ts`],
  testPathIgnorePatterns: ['everyTopology'],
};
