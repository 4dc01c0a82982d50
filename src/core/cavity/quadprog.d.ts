declare module 'quadprog' {
  /** Minimises ½ xᵀDx − dᵀx under Aᵀx ≥ b; all tables count from 1. */
  export function solveQP(D: number[][], d: number[], A: number[][], b: number[]): { solution: number[]; value: number[]; message: string };
}
