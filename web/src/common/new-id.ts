/** A new id, unique among all tabs and machines; `crypto.randomUUID` needs https, this does not. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(12));
  return Array.from(bytes, (b) => b.toString(36).padStart(2, '0')).join('');
}
