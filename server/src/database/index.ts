export { carrying, connect, inTransaction, type WithTheWork } from './connection.ts';
export { migrate } from './migrate.ts';
export * from './models.ts';
export * from './rows.ts';
export { read } from './read.ts';
export * from './onRecord.ts';
