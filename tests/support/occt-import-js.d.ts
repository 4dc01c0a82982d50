declare module 'occt-import-js' {
  interface Result {
    success: boolean;
    meshes: { attributes: { position: { array: number[] } }; index: { array: number[] } }[];
  }
  export default function init(): Promise<{ ReadStepFile(content: Uint8Array, options: Record<string, unknown> | null): Result }>;
}
