/** What the tests use of the scripts' surroundings. */
export const ROOT: string;
export const KEEN: string;
export function cookieSecret(): string;
export function browserPath(): string;
