/** Numbers in one chunk of memory: 64 KiB. */
const CHUNK = 8192;
/** Vectors longer than this get memory of their own. */
const LONGEST = 1024;

let chunk = new ArrayBuffer(CHUNK * Float64Array.BYTES_PER_ELEMENT);
let used = 0;

/**
 * A vector of zeros out of a shared chunk of memory. The engine makes thousands of short vectors to an operating point, and a
 * Float64Array with a buffer of its own costs more to make and to collect than the arithmetic done in it. Do not transfer or
 * clone the `buffer` of such a vector: its neighbours live there too.
 */
export function zeros(length: number): Float64Array {
  if (length > LONGEST) return new Float64Array(length);
  if (used + length > CHUNK) {
    chunk = new ArrayBuffer(CHUNK * Float64Array.BYTES_PER_ELEMENT);
    used = 0;
  }
  const vector = new Float64Array(chunk, used * Float64Array.BYTES_PER_ELEMENT, length);
  used += length;
  return vector;
}

/** A copy of a vector, out of the same chunks. */
export function copied(vector: Float64Array): Float64Array {
  const copy = zeros(vector.length);
  copy.set(vector);
  return copy;
}
