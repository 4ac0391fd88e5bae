import type { AssemblyEdge } from '#core/records';

/** The edges of an assembly with more said of one of them: of a tip of a piece. What was said before stays where nothing else is said. */
export function sayOfEdge(
  edges: readonly AssemblyEdge[],
  { piece, tip }: { readonly piece: string; readonly tip: string },
  said: Partial<Omit<AssemblyEdge, 'pieceId' | 'tipId'>>,
): AssemblyEdge[] {
  const isIt = (e: AssemblyEdge) => e.pieceId === piece && e.tipId === tip;
  const before = edges.find(isIt) ?? { pieceId: piece, tipId: tip, name: '' };
  return [...edges.filter((e) => !isIt(e)), { ...before, ...said }];
}
