import { firstGoals } from '@keen/core/sequence';
import { api, type SiteFields } from '@keen/contract';
import type { CatalogueEntry } from '@keen/core/sky';
import { OBJECT_TYPES } from '@keen/core/sky';
import {
  assembleRig,
  COLOUR_SETS,
  FILTER_SETS,
  filtersOf,
  MOUNTS,
  SENSORS,
  TUBES,
  viewOf,
  type BayerPattern,
  type MountKit,
  type RigBuild,
  type SensorKit,
  type TubeKit,
} from '@keen/core/rig';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { call } from '../../api/client.ts';
import { problemPlaces, type Outcome } from '../../common/outcome.ts';
import { personalKey } from '../../common/personal.ts';
import { SUBURB_MAG } from '../../common/skies.ts';
import { builtLike, useStored } from '../../common/stored.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { plainCopy } from '../../workers/index.ts';

export const STEPS = ['place', 'mount', 'tube', 'riders', 'filters', 'project'] as const;
export type Step = (typeof STEPS)[number];

/** What was told so far; kept in this browser until the rig stands, so that leaving loses nothing. */
export interface FirstEvening {
  at: number;
  place: {
    typed: string;
    latitudeDeg: number | null;
    longitudeDeg: number | null;
    elevationM: number;
    timeZone: string;
    skyMagArcsec2: number;
    name: string;
    horizon: SiteFields['horizon'];
  };
  mount: MountKit | null;
  tube: TubeKit | null;
  sensor: SensorKit | null;
  bayer: BayerPattern | 'mono' | '';
  guider: 'none' | 'guide-scope' | 'off-axis' | '';
  holder: 'none' | 'drawer' | 'wheel' | '';
  dewHeater: boolean;
  cablesKg: number;
  filters: string[];
  siteId: string;
  rigId: string;
  projectId: string;
}

/** "Free above 20°" until something is drawn. */
export const FREE_ABOVE = [{ azimuthDeg: 0, altitudeDeg: 20 }];

export const blank = (): FirstEvening => ({
  at: 0,
  place: {
    typed: '',
    latitudeDeg: null,
    longitudeDeg: null,
    elevationM: 0,
    timeZone: '',
    skyMagArcsec2: SUBURB_MAG,
    name: '',
    horizon: FREE_ABOVE,
  },
  mount: null,
  tube: null,
  sensor: null,
  bayer: '',
  guider: '',
  holder: '',
  dewHeater: true,
  cablesKg: 0.4,
  filters: [],
  siteId: '',
  rigId: '',
  projectId: '',
});

/** What was begun on another day, perhaps on another version of these steps. */
const Begun = z
  .custom<Partial<FirstEvening>>((v) => typeof v === 'object' && v !== null && builtLike(v, blank()))
  .transform((v): FirstEvening => ({ ...blank(), ...v, place: { ...blank().place, ...v.place } }));

/** First filters for what was chosen: they can be renamed slot by slot. */
export function usualFilters(holder: FirstEvening['holder'], colour: boolean): string[] {
  if (holder === 'none' || holder === '') return [];
  return [...(colour ? COLOUR_SETS[1].filters : FILTER_SETS[holder === 'wheel' ? 1 : 3].filters)];
}

/** What is still missing before a rig can be put together, in the order of the steps. */
export function missing(d: FirstEvening): Step | null {
  if (d.place.latitudeDeg === null || d.place.longitudeDeg === null || !d.place.timeZone) return 'place';
  if (!d.mount) return 'mount';
  if (!d.tube) return 'tube';
  if (!d.sensor || d.bayer === '' || d.guider === '' || d.holder === '') return 'riders';
  return null;
}

export function buildOfChoices(d: FirstEvening): RigBuild | null {
  if (!d.mount || !d.tube || !d.sensor) return null;
  return assembleRig({
    mount: d.mount,
    tube: d.tube,
    sensor: d.sensor,
    bayer: d.bayer === 'mono' || d.bayer === '' ? null : d.bayer,
    guider: d.guider || 'none',
    holder: d.holder || 'none',
    filters: d.filters.map((f) => f.trim()).filter((f) => f !== ''),
    dewHeater: d.dewHeater,
    cablesKg: d.cablesKg,
  });
}

export function useFirstEvening() {
  const club = useClub();
  const session = useSession();
  const draft = useStored(() => personalKey('first-evening'), Begun, blank());
  const busy = ref(false);
  const trouble = ref('');
  const step = computed({
    get: () => STEPS[Math.min(STEPS.length - 1, Math.max(0, draft.value.at))]!,
    set: (s) => (draft.value.at = STEPS.indexOf(s)),
  });
  // who comes with another browser goes on from what stands on record
  if (!draft.value.siteId && club.site) draft.value.siteId = club.site.id;
  if (!draft.value.rigId && club.rig) draft.value.rigId = club.rig.id;
  if (draft.value.siteId && !club.sites.some((s) => s.id === draft.value.siteId)) draft.value.siteId = '';
  if (draft.value.rigId && !club.records.some((r) => r.id === draft.value.rigId)) draft.value.rigId = '';
  if (draft.value.place.latitudeDeg === null && club.site) {
    const s = club.site;
    Object.assign(draft.value.place, {
      latitudeDeg: s.latitudeDeg,
      longitudeDeg: s.longitudeDeg,
      elevationM: s.elevationM,
      timeZone: s.timeZone,
      skyMagArcsec2: s.skyMagArcsec2,
      name: s.name,
      horizon: s.horizon ?? FREE_ABOVE,
      typed: `${s.latitudeDeg.toFixed(4)}, ${s.longitudeDeg.toFixed(4)}`,
    });
  }
  if (club.rig && !draft.value.mount) draft.value.at = STEPS.indexOf('project');

  const build = computed(() => buildOfChoices(draft.value));
  const view = computed(() => (build.value ? viewOf(build.value) : null));
  const rig = computed(() => club.records.find((r) => r.id === draft.value.rigId) ?? null);

  async function sent<T>(work: () => Promise<Outcome<T>>): Promise<T | null> {
    busy.value = true;
    trouble.value = '';
    const got = await work();
    busy.value = false;
    if (got.ok) return got.value;
    trouble.value = problemPlaces(got.problem);
    return null;
  }

  async function savePlace(): Promise<boolean> {
    const p = draft.value.place;
    const known = club.sites.find((s) => s.id === draft.value.siteId);
    const body = {
      name: p.name.trim() || (session.alone ? 'Home' : 'Our site'),
      kind:
        session.member?.clubKind === 'remote'
          ? ('remote' as const)
          : session.alone
            ? ('backyard' as const)
            : ('club' as const),
      latitudeDeg: p.latitudeDeg!,
      longitudeDeg: p.longitudeDeg!,
      elevationM: p.elevationM,
      timeZone: p.timeZone,
      skyMagArcsec2: p.skyMagArcsec2,
      horizon: plainCopy(p.horizon ?? []),
      horizonNote: known?.horizonNote ?? '',
    };
    const got = await sent(() =>
      known
        ? call(api.changeSite, {
            params: { id: known.id },
            body: { ...body, kind: known.kind, version: known.version },
          })
        : call(api.addSite, { body }),
    );
    if (!got) return false;
    draft.value.siteId = got.id;
    await club.loadSites();
    return true;
  }
  async function saveRig(): Promise<boolean> {
    const setup = build.value;
    if (!setup) return false;
    const known = rig.value;
    const name = known?.name ?? draft.value.tube!.name;
    const siteId = draft.value.siteId;
    const got = await sent(() =>
      known
        ? call(api.reviseRig, {
            params: { id: known.id },
            body: { name, siteId, setup: plainCopy(setup), version: known.version },
          })
        : call(api.addRig, { body: { name, siteId, setup: plainCopy(setup) } }),
    );
    if (!got) return false;
    draft.value.rigId = got.id;
    club.putRig(got);
    club.selectRig(got.id, got.systems[0]!.key);
    return true;
  }
  async function saveProject(o: CatalogueEntry): Promise<string | null> {
    const record = rig.value;
    if (!record) return null;
    const filters = filtersOf(viewOf(record.setup));
    const got = await sent(() =>
      call(api.addProject, {
        body: {
          name: o.name ? `${o.id}, ${o.name}` : o.id,
          object: o.id,
          objectType: OBJECT_TYPES[o.type] ?? '',
          raDeg: o.raDeg,
          decDeg: o.decDeg,
          sizeArcmin: o.majorArcmin,
          rigId: record.id,
          system: record.systems[0]!.key,
          angleDeg: 0,
          minimumAltitudeDeg: session.settings.lowestAltitudeDeg,
          goals: firstGoals(o.type, filters),
          note: '',
        },
      }),
    );
    if (!got) return null;
    draft.value.projectId = got.id;
    club.putProject(got);
    return got.id;
  }
  return { draft, step, build, view, rig, busy, trouble, savePlace, saveRig, saveProject, TUBES, MOUNTS, SENSORS };
}
