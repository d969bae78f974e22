import { z } from 'zod';
import { useStored } from './stored.ts';

/** How columns were read, by their headings. */
const Ways = z.record(z.string(), z.looseObject({}));
/** Headings remembered at most; the longest unused go first. */
const MOST = 30;

/** How files with the same headings were read last: nobody maps the same columns every morning. */
export function useColumnMemory<T extends object>(name: string) {
  const kept = useStored<Record<string, T>>(
    `keen.columns.${name}`,
    Ways as z.ZodType<Record<string, T>>,
    {},
    {
      flush: 'sync',
    },
  );
  const keyOf = (columns: readonly string[]) => columns.join('\u001f');
  return {
    recall: (columns: readonly string[]): T | null => kept.value[keyOf(columns)] ?? null,
    remember(columns: readonly string[], how: T): void {
      if (columns.length === 0) return;
      const { [keyOf(columns)]: _before, ...others } = kept.value;
      const entries = Object.entries(others).slice(1 - MOST);
      kept.value = Object.fromEntries([...entries, [keyOf(columns), how]]);
    },
  };
}
