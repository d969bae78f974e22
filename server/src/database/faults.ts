/**
 * The steps of a shared write, in their order. Tests end the process at each of them: whatever of it stands afterwards stands
 * whole, and once.
 */
export const WRITE_STEPS = ['begun', 'keyed', 'turn', 'worked', 'answered', 'committed'] as const;
export type WriteStep = (typeof WRITE_STEPS)[number];

let stop: ((step: WriteStep) => void) | null = null;
/** What happens at a step, beside the work itself; nothing, unless somebody looks for faults. */
export const writeStep = (step: WriteStep): void => stop?.(step);

/**
 * Has something done at a step the n-th time it is reached.
 * @param wish  `worked` or `worked:3`, as KEEN_FAULT gives it
 * @throws where there is no such step
 */
export function faultAt(wish: string, what: () => void): void {
  const [step, times = '1'] = wish.split(':');
  if (!WRITE_STEPS.includes(step as WriteStep) || !/^[1-9]\d{0,6}$/.test(times))
    throw new Error(`KEEN_FAULT is one of ${WRITE_STEPS.join(', ')}, perhaps with a number: worked:3`);
  let left = Number(times);
  stop = (now) => {
    if (now === step && --left === 0) what();
  };
}
