import { createHmac, timingSafeEqual } from 'node:crypto';

/**
 * The key in a calendar’s address: it follows from the installation’s secret, so that a dump of the database opens no calendar.
 * @param what  whose calendar of what it is
 */
export const feedKey = (secret: string, what: string, nonce: string): string =>
  createHmac('sha256', secret).update(`${what} ${nonce}`).digest('hex').slice(0, 40);
/** Is it the file of this key? Told in the same time whatever was guessed. */
export function isFeedFile(file: string, key: string): boolean {
  const [asked, right] = [Buffer.from(file), Buffer.from(`${key}.ics`)];
  return asked.length === right.length && timingSafeEqual(asked, right);
}
