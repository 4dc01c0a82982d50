declare module 'verb-nurbs' {
  const verb: {
    geom: {
      NurbsSurface: {
        byKnotsControlPointsWeights(
          degreeU: number,
          degreeV: number,
          knotsU: number[],
          knotsV: number[],
          points: number[][][],
          weights?: number[][],
        ): { point(u: number, v: number): number[] };
      };
      NurbsCurve: {
        byKnotsControlPointsWeights(
          degree: number,
          knots: number[],
          points: number[][],
          weights?: number[],
        ): { derivatives(u: number, order: number): number[][] };
      };
    };
  };
  export default verb;
}
