import { useLocalStorage } from '@vueuse/core';
import type { MaybeRefOrGetter } from 'vue';
import { z } from 'zod';

/**
 * Something this browser keeps. What stands there may be from another version or from anybody's hand: it is read through
 * its shape, and what does not fit is as if nothing had been kept. Texts stand as they are, everything else as JSON.
 */
export function useStored<T>(
  key: MaybeRefOrGetter<string>,
  shape: z.ZodType<T>,
  initial: T,
  options: { flush?: 'sync' | 'post' } = {},
) {
  const plain = typeof initial === 'string';
  return useLocalStorage<T>(key, initial, {
    ...options,
    serializer: {
      read: (raw) => readStored(raw, shape, plain) ?? initial,
      write: (v) => (plain ? String(v) : JSON.stringify(v)),
    },
  });
}

/** What was kept, in its shape; null where it is none. */
export function readStored<T>(raw: string, shape: z.ZodType<T>, plain = false): T | null {
  try {
    const got = shape.safeParse(plain ? raw : JSON.parse(raw));
    return got.success ? got.data : null;
  } catch {
    return null;
  }
}

/** Texts by name, as several screens keep them. */
export const Texts = z.record(z.string(), z.string());
export const Ticks = z.record(z.string(), z.boolean());

const isMap = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);

/**
 * Whether something kept is built like what a screen works on now: what both have is of the same kind, lists hold the same
 * kind of items. Nothing may have been there yet, on either side; fields that one of them lacks are the screen's concern.
 */
export function builtLike(kept: unknown, now: unknown): boolean {
  if (kept === null || now === null || now === undefined) return true;
  if (Array.isArray(now)) return Array.isArray(kept) && (now.length === 0 || kept.every((k) => builtLike(k, now[0])));
  if (isMap(now)) return isMap(kept) && Object.keys(now).every((k) => !(k in kept) || builtLike(kept[k], now[k]));
  return typeof kept === typeof now;
}
