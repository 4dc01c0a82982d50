declare module 'jstat' {
  interface Distribution {
    /** Share below. */
    cdf(x: number, ...of: number[]): number;
    /** Place that a share lies below. */
    inv(share: number, ...of: number[]): number;
  }
  const jStat: { readonly studentt: Distribution; readonly normal: Distribution };
  export default jStat;
}
