const TWO = Array.from({ length: 60 }, (_, i) => String(i).padStart(2, '0'));

/**
 * Writes instants one after the other as ISO 8601 in UTC to the millisecond, as `Date` does: minutes are written once, and
 * most events of a night share theirs with a neighbour.
 */
export function instantWriter(): (ms: number) => string {
  let minute = Number.NaN;
  let text = '';
  return (ms) => {
    const whole = Math.trunc(ms);
    const now = Math.floor(whole / 60_000);
    if (now !== minute) {
      minute = now;
      text = new Date(now * 60_000).toISOString().slice(0, -7);
    }
    const rest = whole - now * 60_000;
    const s = Math.floor(rest / 1000);
    return `${text}${TWO[s]!}.${String(rest - 1000 * s).padStart(3, '0')}Z`;
  };
}
