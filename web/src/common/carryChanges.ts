const isRecord = (v: unknown): v is object => typeof v === 'object' && v !== null && !Array.isArray(v);

/** Writes onto `target` what was changed from `before` to `after`, field by field; lists are one field. */
export function carryChanges<T extends object>(before: T, after: T, target: T): void {
  for (const key of Object.keys(after) as (keyof T)[]) {
    const [was, is, there] = [before[key], after[key], target[key]];
    if (isRecord(was) && isRecord(is) && isRecord(there)) carryChanges(was, is, there);
    else if (JSON.stringify(was) !== JSON.stringify(is)) target[key] = is;
  }
}
