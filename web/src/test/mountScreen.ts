import { serverState } from '../api/serverState.ts';
import { afterEach, expect, jest } from '@jest/globals';
import {
  api,
  USUAL_SEASON,
  type MemberInfo,
  type ProjectRecord,
  type RigRecord,
  type SiteRecord,
} from '@keen/contract';
import { RIGS, SITES } from '@keen/demo';
import { aspectsOf, viewOf, type RigBuild } from '@keen/core/rig';
import { TextDecoder, TextEncoder } from 'node:util';
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils';
import { createPinia, setActivePinia } from 'pinia';
import type { Component } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import { useClub } from '../stores/club.ts';
import { useSession } from '../stores/session.ts';

/** What a request got, by method and path; the first that matches answers. */
export interface Answer {
  method?: string;
  path: RegExp;
  status?: number;
  /** A promise of one answers when it comes. */
  body: unknown;
}
/** An answer that comes when the test lets it. */
export function slow(body: unknown): { body: Promise<unknown>; come: () => Promise<void> } {
  let answer = (_: unknown): void => undefined;
  const promise = new Promise((done) => (answer = done));
  return { body: promise, come: () => (answer(body), flushPromises()) as Promise<void> };
}
export const sent: { method: string; path: string; body: unknown }[] = [];
// the test browser has none; what is cloned here is plain data
globalThis.structuredClone ??= (<T>(v: T): T => JSON.parse(JSON.stringify(v)) as T) as typeof structuredClone;
globalThis.TextDecoder ??= TextDecoder as typeof globalThis.TextDecoder;
globalThis.TextEncoder ??= TextEncoder as typeof globalThis.TextEncoder;
// nor does it have a size to ask about: as on a desk
globalThis.matchMedia ??= ((media: string) => ({
  media,
  matches: false,
  addListener: () => undefined,
  removeListener: () => undefined,
  addEventListener: () => undefined,
  removeEventListener: () => undefined,
})) as unknown as typeof matchMedia;
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

export const me = (more: Partial<MemberInfo> = {}): MemberInfo => ({
  id: id(1),
  name: 'Noor Vik',
  signIn: 'noor',
  role: 'steward',
  club: 'Noor’s equipment',
  clubKind: 'alone',
  demo: false,
  owner: true,
  secondFactor: false,
  ...more,
});
const stamps = { version: 1, updatedAt: '2026-11-01T12:00:00.000Z', updatedBy: 'Noor Vik' };
export const site = (): SiteRecord => {
  const { key: _k, ...s } = SITES[0]!;
  return { id: id(2), ...s, ...stamps };
};
export function rig(build: RigBuild = RIGS[0]!.build, n = 3): RigRecord {
  return {
    id: id(n),
    name: `rig ${n}`,
    siteId: id(2),
    setup: build,
    revision: 1,
    systems: build.systems.map((s, i) => ({
      key: s.key,
      name: s.name,
      trainStateId: id(100 * n + i),
      words: `amber-heron${i || ''}`,
      aspects: aspectsOf(viewOf(build, s.key)),
    })),
    ...stamps,
  };
}
export const project = (more: Partial<ProjectRecord> = {}): ProjectRecord => ({
  id: id(50),
  name: 'NGC 281 in lines',
  object: 'NGC 281',
  objectType: '',
  raDeg: 13.2,
  decDeg: 56.6,
  sizeArcmin: 35,
  rigId: id(3),
  system: rig().systems[0]!.key,
  angleDeg: 0,
  minimumAltitudeDeg: 30,
  goals: [{ filter: 'Ha', exposureS: 300, quota: 40 }],
  note: '',
  season: USUAL_SEASON,
  owner: 'Noor Vik',
  ownerId: id(1),
  archived: false,
  framing: null,
  panels: 1,
  byPanel: [],
  done: [],
  nights: [],
  ...stamps,
  ...more,
});

/** What prepared answers said that no server would: a screen tested with them is tested with what it never gets. */
const untrue: string[] = [];
/** Screens of the test that is at work: what stays standing asks, and answers for, the stores of the next one. */
const standing: VueWrapper[] = [];
afterEach(() => {
  for (const w of standing.splice(0)) if (!w.vm.$.isUnmounted) w.unmount();
  expect(untrue.splice(0)).toEqual([]);
});
function againstContract(method: string, path: string, answer: unknown): string[] {
  const plain = path.split('?')[0]!;
  const found = Object.values(api).find(
    (r) => r.method.toUpperCase() === method && new RegExp(`^${r.path.replace(/:\w+/g, '[^/]+')}$`).test(plain),
  );
  const got = found?.response.safeParse(answer);
  return got?.success === false
    ? [
        `${method} ${plain}: ${got.error.issues
          .slice(0, 3)
          .map((i) => `${i.path.join('.')} ${i.message}`)
          .join('; ')}`,
      ]
    : [];
}

/** A screen with its stores filled and a server of prepared answers. */
export async function mountScreen(
  component: Component,
  options: {
    answers?: Answer[];
    member?: MemberInfo | null;
    rigs?: RigRecord[];
    sites?: SiteRecord[];
    projects?: ProjectRecord[];
    props?: object;
    at?: string;
    /** What another screen left in a store. */
    before?: () => void;
  } = {},
) {
  sent.length = 0;
  serverState.clear();
  globalThis.fetch = jest.fn(async (path: unknown, init: unknown) => {
    const { method = 'GET', body } = (init ?? {}) as { method?: string; body?: string };
    sent.push({ method, path: String(path), body: body ? (JSON.parse(body) as unknown) : undefined });
    const found = (options.answers ?? []).find((a) => (a.method ?? 'GET') === method && a.path.test(String(path)));
    // a rig without offsets, and hours nobody booked, where a test says nothing of them
    const plain =
      !found &&
      method === 'GET' &&
      /^\/api\/(offset-sets|bookings|upkeep|handovers|counts|live-runs|bridges)/.test(String(path));
    const status = found ? (found.status ?? 200) : plain ? 200 : 404;
    // nor are frames of a run kept
    const nothing = /\/live-runs\/[^/]+\/frames$/.test(String(path)) ? { days: null, frames: [] } : [];
    const answer = await found?.body;
    if (found && status < 400) untrue.push(...againstContract(method, String(path), answer));
    return {
      ok: status < 400,
      status,
      json: async () => (await found?.body) ?? (plain ? nothing : null) ?? { code: 'not_found', title: 'none', status },
    };
  }) as unknown as typeof fetch;
  const pinia = createPinia();
  setActivePinia(pinia);
  const session = useSession();
  const member = options.member === undefined ? me() : options.member;
  session.info = {
    member,
    csrfToken: 't',
    mayBegin: true,
    local: true,
    mayRestoreDemo: false,
    settings: null,
    demo: null,
  };
  const club = useClub();
  club.sites = options.sites ?? [site()];
  club.records = options.rigs ?? [rig()];
  club.projects = options.projects ?? [];
  club.loaded = true;
  options.before?.();
  const router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/:rest(.*)*', component: {} }] });
  await router.push(options.at ?? '/');
  const wrapper = mount(component, {
    props: (options.props ?? {}) as never,
    global: { plugins: [pinia, router] },
    attachTo: document.body,
  });
  standing.push(wrapper);
  await flushPromises();
  // a screen of the same test may have asked its own stores meanwhile
  setActivePinia(pinia);
  return { wrapper, club, session, router, sent };
}
