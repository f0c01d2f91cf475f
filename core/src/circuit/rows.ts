/** Rows of a matrix by the name of what they give. */
export interface Rows {
  get(name: string): Float64Array | undefined;
}
