declare module 'verb-nurbs' {
  const verb: {
    geom: {
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
