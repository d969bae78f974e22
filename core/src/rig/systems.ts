import type { ImagingSystem, RigBuild, RigSetup } from './schemas.ts';

/** The system with this key; the first one when there is none such: a system taken away leaves its rig standing. */
export const systemOf = (build: RigBuild, key?: string | null): ImagingSystem =>
  build.systems.find((s) => s.key === key) ?? build.systems[0]!;

/** The rig seen through one system. */
export function viewOf(build: RigBuild, key?: string | null): RigSetup {
  const { systems: _all, ...carried } = build;
  const { key: _k, name: _n, ...imaging } = systemOf(build, key);
  return { ...carried, ...imaging };
}

const CARRIED = [
  'mount',
  'placed',
  'counterweights',
  'shaft',
  'slide',
  'saddle',
  'counterweightStock',
  'trimPoints',
  'trimStockKg',
  'relocations',
  'biasNm',
  'supply',
  'practice',
  'note',
] as const satisfies readonly (keyof RigBuild)[];

/** Splits a view into what the whole rig carries and what belongs to the system. */
function split(view: RigSetup) {
  const carried: Record<string, unknown> = {};
  const imaging: Record<string, unknown> = {};
  for (const [k, v] of Object.entries(view)) ((CARRIED as readonly string[]).includes(k) ? carried : imaging)[k] = v;
  return {
    carried: carried as Omit<RigBuild, 'systems'>,
    imaging: imaging as Omit<ImagingSystem, 'key' | 'name'>,
  };
}

/** The whole rig with one system, and what all carry, replaced by an edited view. */
export function withView(build: RigBuild, key: string, view: RigSetup): RigBuild {
  const { carried, imaging } = split(view);
  return {
    ...carried,
    systems: build.systems.map((s) => (s.key === key ? { key: s.key, name: s.name, ...imaging } : s)),
  };
}

/** A rig of one system. */
export function buildOf(view: RigSetup, name: string, key = 'main'): RigBuild {
  const { carried, imaging } = split(view);
  return { ...carried, systems: [{ key, name, ...imaging }] };
}

/** A key no system of the rig has yet, made from a name. */
export function freeKey(build: Pick<RigBuild, 'systems'>, name: string): string {
  const stem =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 30) || 'system';
  const taken = new Set(build.systems.map((s) => s.key));
  let key = stem;
  for (let n = 2; taken.has(key); n++) key = `${stem}-${n}`;
  return key;
}
