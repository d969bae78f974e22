/** Groups of two or more whose every pair differs, its 95 % interval included, by less than half the zone. */
export function parfocalGroups(
  order: string[],
  steps: number[],
  cov: (a: number, b: number) => number,
  zone: number,
  factor: number,
) {
  const byOffset = order.map((_, i) => i).sort((a, b) => steps[a]! - steps[b]! || a - b);
  const near = (a: number, b: number) => {
    const variance = cov(a, a) + cov(b, b) - 2 * cov(a, b);
    return Math.abs(steps[a]! - steps[b]!) + factor * Math.sqrt(Math.max(0, variance)) < zone / 2;
  };
  const groups: number[][] = [];
  const taken = new Set<number>();
  for (const first of byOffset) {
    if (taken.has(first)) continue;
    const group = [first];
    for (const other of byOffset)
      if (other !== first && !taken.has(other) && !group.includes(other) && group.every((g) => near(g, other)))
        group.push(other);
    group.forEach((g) => taken.add(g));
    if (group.length > 1) groups.push(group);
  }
  return groups.map((g) => [...g].sort((a, b) => a - b).map((i) => order[i]!));
}
