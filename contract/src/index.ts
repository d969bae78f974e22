export * from './route.ts';
export * from './common.ts';
export * from './access.ts';
export * from './rigs.ts';
export * from './focus.ts';
export * from './projects.ts';
export * from './dusk.ts';
export * from './duskSettings.ts';
export { api } from './api.ts';
