import type { FaceInText } from './changed-faces.ts';
import { editText, type Part21File, type TextEdit } from './part21.ts';
import type { PlainSurfaces } from './plain-surfaces.ts';
import { edgesOf, shellsOf } from './step-faces.ts';

/** What the kernel is to read in place of a file whose coordinate systems would move bodies or whose splines are plain surfaces. */
export class TextToRead {
  private readonly file: Part21File;
  private readonly solids: readonly number[];
  private readonly edits: readonly TextEdit[];
  private readonly plain: PlainSurfaces;

  /** `solids`: the entities of those, and of surface models. */
  constructor(file: Part21File, solids: readonly number[], edits: readonly TextEdit[], plain: PlainSurfaces) {
    this.file = file;
    this.solids = solids;
    this.edits = edits;
    this.plain = plain;
  }

  /** Undefined where it is the file as it is. `asWritten`: surfaces that stay what they are. */
  text(asWritten: ReadonlySet<number>): string | undefined {
    const edits = [...this.edits, ...this.plain.edits(asWritten)];
    return edits.length === 0 ? undefined : editText(this.file.text, edits);
  }

  /** All that are written as something else. */
  surfaces(): ReadonlySet<number> {
    return this.plain.ids();
  }

  /** Each shell by its faces: the surface of each that is written as another one, and how many edges it has. */
  shells(): FaceInText[][] {
    return this.solids
      .flatMap((solid) => shellsOf(this.file, solid))
      .map((faces) => faces.map((face) => ({ surface: this.plain.surfaceOf(face), edges: edgesOf(this.file, face).size })));
  }
}
