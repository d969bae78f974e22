/** What the tests use of the private database. */
export interface PrivateDatabase {
  url: string;
  port: number;
  pid: number;
  socket: string;
  isUp: () => boolean;
  stop: () => Promise<void>;
  sql: (text: string) => { status: number | null; stdout: string; stderr: string };
  copy: (from: string, to: string) => void;
  image: (name: string) => Uint8Array;
  fill: (name: string, statements: Uint8Array) => void;
}
export function privateDatabase(options?: {
  folder?: string;
  firstPort?: number;
  name?: string;
  schemas?: string[];
  lasting?: boolean;
}): Promise<PrivateDatabase>;
export function freePort(first: number): Promise<number>;
