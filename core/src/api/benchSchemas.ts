import { z } from 'zod';
import { instrumentsSchema } from '../instruments/instruments.js';
import { readingSchema } from '../readings/reading.js';

/** What of the bench crosses the JSON API. */

/** Characters of a run as it is sent: some thousand lines and a few pictures. @public */
export const RUN_TEXT_LIMIT = 4_000_000;

/** What a run measures. @public */
export const RUN_KINDS = [
  'log',
  'efficiency',
  'load-regulation',
  'line-regulation',
  'ripple',
  'load-step',
  'loop',
] as const;
/** @public */
export type RunKind = (typeof RUN_KINDS)[number];

const text = (most: number) => z.string().max(most);
const number = z.number().min(-1e9).max(1e9);

/** A waveform or a response that was taken, as columns. @public */
export const captureSchema = z.strictObject({
  title: text(200),
  /** Against time, s, or frequency, Hz. */
  against: z.enum(['time', 'frequency']),
  x: z.array(number).max(20_000),
  columns: z.array(z.strictObject({ name: text(120), unit: text(10), values: z.array(number).max(20_000) })).max(8),
});
/** @public */
export type Capture = z.infer<typeof captureSchema>;

/** A point of a run. */
const pointSchema = z.strictObject({
  inputVoltage: z.number().positive().max(1e4),
  outputCurrent: z.number().min(0).max(1e4),
});

/** Where each instrument is spoken to: a host and a port. @public */
export const addressesSchema = z.strictObject({
  supply: text(120),
  load: text(120),
  meter: text(120).optional(),
  oscilloscope: text(120).optional(),
  analyser: text(120).optional(),
});
/** @public */
export type Addresses = z.infer<typeof addressesSchema>;

/** How the instruments measure. */
const measuringSchema = z.strictObject({
  addresses: addressesSchema,
  /** A, at which the supply limits. */
  supplyLimit: z.number().positive().max(1e4),
  /** s, waited at each point before it is read. */
  settling: z.number().min(0).max(600),
  /** A: between what the load steps, in a run of steps. */
  step: z.strictObject({ from: z.number().min(0).max(1e4), to: z.number().min(0).max(1e4) }).optional(),
});
/** @public */
export type Measuring = z.infer<typeof measuringSchema>;

/** One run of the log: what was measured, with what and of which board. @public */
export const benchRunSchema = z.strictObject({
  kind: z.enum(RUN_KINDS),
  title: text(120),
  /** Of the board. */
  serial: text(120),
  /** When, as the designer's clock had it. */
  date: z.iso.datetime(),
  /** °C */
  ambient: z.number().min(-100).max(200),
  notes: text(20_000),
  instruments: instrumentsSchema,
  points: z.array(pointSchema).max(2_000),
  readings: z.array(readingSchema).max(5_000),
  captures: z.array(captureSchema).max(40),
  /** How the instruments were told to measure; absent of what was entered by hand. */
  asked: measuringSchema.optional(),
  /** Pictures, as data of the page: PNG or JPEG. */
  pictures: z
    .array(
      z.strictObject({
        name: text(200),
        data: z
          .string()
          .max(3_000_000)
          .regex(/^data:image\/(png|jpeg);base64,[A-Za-z0-9+/=]+$/),
      }),
    )
    .max(6),
  state: z.enum(['entered', 'running', 'paused', 'done', 'aborted', 'lost']),
  /** What ended it before it was done, in a sentence. */
  problem: text(1_000).nullable(),
});
/** @public */
export type BenchRun = z.infer<typeof benchRunSchema>;

const id = z.uuid();
/** @public */
export const benchRunRowSchema = z.strictObject({ id, stageId: id, revision: z.int32(), run: benchRunSchema });
/** @public */
export type BenchRunRow = z.infer<typeof benchRunRowSchema>;
/** @public */
export const benchRunsSchema = z.strictObject({ runs: z.array(benchRunRowSchema) });

/** Saving a run that was entered or annotated by hand. @public */
export const saveRunSchema = z.strictObject({ revision: z.int32(), run: benchRunSchema });

/**
 * What a run of this kind cannot do without and has no address of, with the way out; undefined where all is there.
 *
 * @public
 */
export function lackingInstrument(kind: RunKind, { oscilloscope, analyser }: Addresses): string | undefined {
  const way = 'name its address, or tick it among the instruments at hand and set up the simulated ones anew.';
  if ((kind === 'load-step' || kind === 'ripple') && oscilloscope === undefined)
    return `A ${kind === 'ripple' ? 'ripple' : 'load step'} is read from an oscilloscope: ${way}`;
  if (kind === 'loop' && analyser === undefined) return `A loop is read from a response analyser: ${way}`;
  return undefined;
}

/** A run that the instruments do: it says how. @public */
export const startRunSchema = benchRunSchema
  .extend({ asked: measuringSchema })
  .superRefine(({ kind, asked }, check) => {
    const lacking = lackingInstrument(kind, asked.addresses);
    if (lacking !== undefined) check.addIssue({ code: 'custom', path: ['asked', 'addresses'], message: lacking });
  });
/** @public */
export type StartRun = z.infer<typeof startRunSchema>;

/** The simulated instruments, where they stand on their table. @public */
export const standInsSchema = z.strictObject({
  standIns: z
    .strictObject({ stageId: id, seed: z.int(), addresses: addressesSchema, instruments: instrumentsSchema })
    .nullable(),
});
/** @public */
export type StandIns = z.infer<typeof standInsSchema>;

/** How a simulated board was built. @public */
export const startStandInsSchema = z.strictObject({
  seed: z.int().min(0).max(1e9),
  instruments: instrumentsSchema,
});
