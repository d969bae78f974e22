import { resolve } from 'node:path';

/** Everything the server reads from its surroundings, in one place. */
export interface Config {
  databaseUrl: string;
  host: string;
  port: number;
  /** Signs session cookies. */
  secret: string;
  secureCookies: boolean;
  webFolder: string;
  dataFolder: string;
  loadDemo: boolean;
  /** Sign-in attempts allowed per address and quarter of an hour. */
  signInLimit: number;
  /** Calculations allowed per address and minute. */
  calculationLimit: number;
  trustProxy: boolean;
  logLevel: string;
  /** The instant at which the server's clock starts, for tests; none: the machine's time. */
  clock?: string;
}

export function readConfig(env: NodeJS.ProcessEnv, root: string): Config {
  const databaseUrl = env.KEEN_DATABASE_URL;
  if (!databaseUrl) throw new Error('KEEN_DATABASE_URL is not set: npm start sets it, or give your own database');
  const secret = env.KEEN_SECRET ?? '';
  if (secret.length < 32) throw new Error('KEEN_SECRET must hold at least 32 characters (npm start makes one)');
  return {
    databaseUrl,
    host: env.KEEN_HOST ?? '127.0.0.1',
    port: Number(env.KEEN_PORT ?? 4310),
    secret,
    secureCookies: env.KEEN_SECURE_COOKIES === '1',
    webFolder: resolve(root, env.KEEN_WEB ?? 'web/dist'),
    dataFolder: resolve(root, 'data'),
    loadDemo: env.KEEN_DEMO !== '0',
    signInLimit: Number(env.KEEN_SIGN_IN_LIMIT ?? 20),
    calculationLimit: Number(env.KEEN_CALCULATION_LIMIT ?? 600),
    trustProxy: env.KEEN_TRUST_PROXY === '1',
    logLevel: env.KEEN_LOG ?? 'info',
    ...(env.KEEN_CLOCK ? { clock: env.KEEN_CLOCK } : {}),
  };
}
