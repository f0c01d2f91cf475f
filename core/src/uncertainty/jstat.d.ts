declare module 'jstat' {
  export const jStat: {
    readonly studentt: { readonly inv: (share: number, degrees: number) => number };
    readonly normal: { readonly inv: (share: number, mean: number, deviation: number) => number };
  };
}
