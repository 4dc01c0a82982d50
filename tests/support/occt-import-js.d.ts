declare module 'occt-import-js' {
  interface Result {
    success: boolean;
    meshes: {
      name: string;
      /** Linear, not as screens show it; none where the file gives none. */
      color?: [number, number, number];
      attributes: { position: { array: number[] } };
      index: { array: number[] };
    }[];
  }
  export default function init(): Promise<{ ReadStepFile(content: Uint8Array, options: Record<string, unknown> | null): Result }>;
}
