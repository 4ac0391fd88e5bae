// The package has no types of its own. What comes of a file is whatever that holds.
declare module 'dxf' {
  export interface DxfEntity {
    readonly type: string;
    readonly [field: string]: unknown;
  }
  export interface DxfLayer {
    readonly name?: string;
    readonly flags?: number;
    readonly colorNumber?: number;
    readonly lineTypeName?: string;
  }
  export interface DxfFile {
    readonly header: { readonly insUnits?: number; readonly measurement?: number };
    readonly blocks: readonly { readonly name?: string; readonly x?: number; readonly y?: number; readonly entities?: readonly DxfEntity[] }[];
    readonly entities: readonly DxfEntity[];
    readonly tables: {
      readonly layers?: Readonly<Record<string, DxfLayer>>;
      readonly ltypes?: Readonly<Record<string, { readonly name?: string; readonly pattern?: readonly { readonly length?: number }[] }>>;
    };
  }
  export function parseString(text: string): DxfFile;
}
