export * from './result.js';
export * from './stage/schema.js';
export * from './stage/readStage.js';
export * from './stage/problemSentence.js';
export * from './stage/jsonSchema.js';
export * from './quantity/engineering.js';
export * from './quantity/preferredValues.js';
