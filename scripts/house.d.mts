/** What the tests use of the scripts' house. */
export interface PrivateDatabase {
  url: string;
  port: number;
  pid: number;
  socket: string;
  isUp: () => boolean;
  stop: () => Promise<void>;
  sql: (text: string) => { status: number | null; stdout: string; stderr: string };
}
export const ROOT: string;
export const KEEN: string;
export function privateDatabase(options?: {
  folder?: string;
  firstPort?: number;
  name?: string;
}): Promise<PrivateDatabase>;
export function cookieSecret(): string;
export function freePort(first: number): Promise<number>;
