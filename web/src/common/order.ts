/** Moves one item of a list by one place, in the list itself; stays where it is at either end. */
export function moveBy<T>(list: T[], at: number, by: -1 | 1): void {
  const to = at + by;
  if (to < 0 || to >= list.length) return;
  const [item] = list.splice(at, 1);
  list.splice(to, 0, item!);
}
