// The glTF validator ships no types; the tests use this much of it.
declare module 'gltf-validator' {
  interface Report {
    readonly issues: { readonly numErrors: number; readonly numWarnings: number };
    readonly info: { readonly totalTriangleCount?: number };
  }
  const validator: { validateBytes(bytes: Uint8Array): Promise<Report> };
  export default validator;
}
