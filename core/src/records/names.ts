/** A name that is not taken: "Holder", "Holder 2", ... */
export function nameBeside(wish: string, isTaken: (name: string) => boolean): string {
  for (let n = 1; ; n++) {
    const name = n === 1 ? wish : `${wish} ${n}`;
    if (!isTaken(name)) return name;
  }
}
