/** A project as its owner weighs it. */
export interface Weighed {
  id: string;
  ownerId: string;
  priority: number;
}
/** What each weighs by its owner’s word: on the average of their own one, whatever they say. */
export function weightsOf(open: readonly Weighed[]): Map<string, number> {
  const sums = new Map<string, [sum: number, n: number]>();
  for (const p of open) {
    const [sum, n] = sums.get(p.ownerId) ?? [0, 0];
    sums.set(p.ownerId, [sum + p.priority, n + 1]);
  }
  return new Map(
    open.map((p) => {
      const [sum, n] = sums.get(p.ownerId)!;
      return [p.id, (p.priority * n) / sum];
    }),
  );
}
/** The part of a rig’s hours that comes to one of those that want it, by weight. */
export function shareOf(id: string, open: readonly Weighed[]): number {
  const weights = weightsOf(open);
  const all = [...weights.values()].reduce((s, w) => s + w, 0);
  return all > 0 ? (weights.get(id) ?? 0) / all : 1;
}
