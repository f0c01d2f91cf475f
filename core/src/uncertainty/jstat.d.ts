declare module 'jstat' {
  /** A CommonJS module: all it offers is its default. */
  const offered: {
    readonly jStat: {
      readonly studentt: { readonly inv: (share: number, degrees: number) => number };
      readonly normal: { readonly inv: (share: number, mean: number, deviation: number) => number };
    };
  };
  export default offered;
}
