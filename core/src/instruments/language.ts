/**
 * The language instruments are spoken to in: lines of program messages over a plain connection, the common commands of IEEE 488.2 and
 * a generic set of our own in the style of SCPI. docs/instruments.md lists it.
 *
 * Sources: IEEE Std 488.2-1992, Standard Codes, Formats, Protocols, and Common Commands: 7.3 (program messages), 8.7.9 (definite length
 * arbitrary block), 10 (common commands); SCPI-1999, volume 1, 6.2 (long and short forms of headers).
 */

/** One unit of a program message. */
export interface MessageUnit {
  /** In capitals, without the question mark. */
  readonly header: string;
  readonly query: boolean;
  readonly arguments: readonly string[];
}

/** The units of a line: `VOLT 12;OUTP ON`, `MEAS:VOLT?`. */
export const messageUnits = (line: string): readonly MessageUnit[] =>
  line
    .split(';')
    .map((unit) => unit.trim())
    .filter((unit) => unit !== '')
    .map((unit) => {
      const [, header = '', mark = '', rest = ''] = /^:?([^\s?]+)(\??)\s*(.*)$/.exec(unit) ?? [];
      return {
        header: header.toUpperCase(),
        query: mark === '?',
        arguments: rest === '' ? [] : rest.split(',').map((one) => one.trim()),
      };
    });

/** Whether a header is that of a pattern such as `MEASure:VOLTage`, in its long form or its short one, word by word. */
export function isHeader(pattern: string, header: string): boolean {
  const words = pattern.split(':');
  const given = header.split(':');
  return (
    words.length === given.length &&
    words.every((word, k) => {
      const short = word.replace(/[a-z]/g, '');
      return given[k] === word.toUpperCase() || given[k] === short;
    })
  );
}

/** Bytes as a definite length block: `#`, the count of digits, the length, the bytes. */
export function definiteBlock(bytes: Uint8Array): Uint8Array {
  const length = String(bytes.length);
  const head = new TextEncoder().encode(`#${String(length.length)}${length}`);
  const out = new Uint8Array(head.length + bytes.length);
  out.set(head);
  out.set(bytes, head.length);
  return out;
}

/** How many bytes a block that begins with these has in all, and where its content begins; undefined while its head is not whole. */
export function blockLength(
  bytes: Uint8Array,
): { readonly from: number; readonly to: number } | undefined | 'no-block' {
  if (bytes.length < 2) return undefined;
  const digits = (bytes[1] ?? 0) - 48;
  if (bytes[0] !== 35 || digits < 1 || digits > 9) return 'no-block';
  if (bytes.length < 2 + digits) return undefined;
  const length = Number(new TextDecoder().decode(bytes.subarray(2, 2 + digits)));
  if (!Number.isInteger(length)) return 'no-block';
  return { from: 2 + digits, to: 2 + digits + length };
}

/** Floating-point numbers of 32 bits, the low byte first. */
export const floatsOf = (bytes: Uint8Array): Float64Array => {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Float64Array.from({ length: Math.floor(bytes.length / 4) }, (_, k) => view.getFloat32(4 * k, true));
};
export const bytesOf = (values: ArrayLike<number>): Uint8Array => {
  const view = new DataView(new ArrayBuffer(4 * values.length));
  for (let k = 0; k < values.length; k += 1) view.setFloat32(4 * k, values[k] ?? 0, true);
  return new Uint8Array(view.buffer);
};

/** What an instrument keeps of errors, the oldest first, as `SYSTem:ERRor?` tells them. */
export const ERRORS = {
  none: '0,"No error"',
  header: '-113,"Undefined header"',
  parameter: '-109,"Missing parameter"',
  data: '-104,"Data type error"',
  range: '-222,"Data out of range"',
  conflict: '-221,"Settings conflict"',
  stale: '-230,"Data corrupt or stale"',
} as const;
