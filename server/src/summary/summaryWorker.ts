import { summarise } from './summarise.js';

/** What a worker thread of the pool does with a stage. */
export default summarise;
