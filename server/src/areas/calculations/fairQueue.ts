import { Problem } from '../../problems.ts';

interface Waiting<T> {
  start: () => Promise<T>;
  done: (value: T) => void;
  failed: (reason: unknown) => void;
}

/**
 * Runs a few jobs at a time and takes turns among the people who ask, so that one who asks for a hundred things does not
 * keep the others waiting. Each may have a few in the line, the line as a whole is bounded.
 */
export class FairQueue {
  private readonly lines = new Map<string, Waiting<never>[]>();
  private running = 0;
  private waiting = 0;
  private readonly limits: { atOnce: number; perPerson: number; inAll: number };
  constructor(limits: { atOnce: number; perPerson: number; inAll: number }) {
    this.limits = limits;
  }

  /** @throws Problem too_many when this person's line is full, busy when the whole is */
  run<T>(person: string, start: () => Promise<T>): Promise<T> {
    const line = this.lines.get(person) ?? [];
    if (line.length >= this.limits.perPerson)
      throw new Problem('too_many', 'Several of your calculations are waiting already; ask again when they are done.');
    if (this.waiting >= this.limits.inAll) throw new Problem('busy');
    return new Promise<T>((done, failed) => {
      line.push({ start, done, failed } as unknown as Waiting<never>);
      this.lines.set(person, line);
      this.waiting++;
      this.next();
    });
  }

  private next(): void {
    while (this.running < this.limits.atOnce) {
      const first = this.lines.entries().next();
      if (first.done) return;
      const [person, line] = first.value;
      const job = line.shift()!;
      this.waiting--;
      // whoever had a turn goes to the end
      this.lines.delete(person);
      if (line.length) this.lines.set(person, line);
      this.running++;
      const over = () => {
        this.running--;
        this.next();
      };
      job.start().then(job.done, job.failed).finally(over);
    }
  }
}
