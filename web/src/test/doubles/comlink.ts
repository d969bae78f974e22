/** A worker in the thread of the tests: what it exposes is what the page gets. */
let exposed: object = {};
export const expose = (works: object): void => void (exposed = works);
export const wrap = (): object => exposed;
export const proxy = <T>(value: T): T => value;
export const transfer = <T>(value: T): T => value;
