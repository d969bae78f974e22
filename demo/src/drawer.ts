import type { Part } from '@keen/core/rig';
import type { DemoMember } from './sites.ts';
import { M42, M48, M54 } from './threads.ts';

export interface DemoPart {
  owner: DemoMember['key'] | null;
  part: Part;
}

const drawer = (part: Omit<Part, 'count' | 'note'> & Partial<Part>, owner: DemoPart['owner'] = null): DemoPart => ({
  owner,
  part: { count: 1, note: '', ...part },
});

/** What lies in the drawer beside the rigs; the rigs' own pieces are added from their setups. */
export const LOOSE_PARTS: DemoPart[] = [
  drawer({
    name: '0.7× reducer',
    kind: 'reducer',
    massKg: 0.62,
    lengthMm: 38,
    widthMm: 75,
    note: 'wants 85 mm behind it',
    rear: M54.male,
  }),
  ...[4, 5, 7.5, 10, 15, 20].map((mm) =>
    drawer({
      name: `M54 spacer ${mm} mm`,
      kind: 'adapter',
      massKg: Math.round(12 + mm * 1.3) / 1000,
      lengthMm: mm,
      ...(mm === 10 ? { measuredMm: 10.02, measuredBy: 'Odalys' } : {}),
      count: mm < 8 ? 2 : 1,
      front: M54.female,
      rear: M54.male,
    }),
  ),
  ...[3, 5, 10].map((mm) =>
    drawer({
      name: `M48 spacer ${mm} mm`,
      kind: 'adapter',
      massKg: Math.round(10 + mm * 1.1) / 1000,
      lengthMm: mm,
      count: 2,
      front: M48.female,
      rear: M48.male,
    }),
  ),
  drawer({
    name: 'M54 ring 0.5 mm',
    kind: 'adapter',
    massKg: 0.01,
    lengthMm: 0.5,
    measuredMm: 0.52,
    measuredBy: 'Mirela',
    count: 4,
  }),
  drawer({ name: 'M54 ring 0.3 mm', kind: 'adapter', massKg: 0.01, lengthMm: 0.3, count: 2 }),
  drawer({ name: 'M54 to M48 adapter', kind: 'adapter', massKg: 0.05, lengthMm: 2, front: M54.female, rear: M48.male }),
  drawer(
    { name: 'M48 to M42 adapter', kind: 'adapter', massKg: 0.04, lengthMm: 1, front: M48.female, rear: M42.male },
    'mirela',
  ),
  drawer({ name: '1 kg weight', kind: 'counterweight', massKg: 1, widthMm: 80, count: 2 }),
  drawer({ name: '2.5 kg weight', kind: 'counterweight', massKg: 2.5, widthMm: 100, lentTo: 'Sefu Wanjala' }, 'teun'),
  drawer({ name: 'trim weight 0.25 kg', kind: 'accessory', massKg: 0.25, count: 2 }),
  drawer({ name: 'dew strap, 200 mm', kind: 'accessory', massKg: 0.18 }),
];
