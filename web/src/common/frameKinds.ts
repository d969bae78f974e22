import type { FrameKind } from '@keen/core/exchange';

/** What kinds of frames are called. */
export const KIND_WORDS: Readonly<Record<FrameKind, string>> = {
  light: 'light',
  dark: 'dark',
  flat: 'flat',
  bias: 'bias',
  darkFlat: 'dark flat',
};

/** “3 flats, 1 bias”: how many of each, in the order they first come. */
export function kindsIn(kinds: readonly FrameKind[]): string {
  const count = new Map<FrameKind, number>();
  for (const k of kinds) count.set(k, (count.get(k) ?? 0) + 1);
  return [...count].map(([k, n]) => `${n} ${KIND_WORDS[k]}${n > 1 ? (k === 'bias' ? 'es' : 's') : ''}`).join(', ');
}
