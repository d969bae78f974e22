import type { LogRecord } from '@keen/contract';
import { dayName } from './times.ts';

/** That something is out of order, and until when, in words. */
export const stopWords = ({ stops }: Pick<LogRecord, 'stops'>): string =>
  `out of order ${stops?.until ? `up to the night of ${dayName(stops.until)}` : 'until it is cured'}`;
