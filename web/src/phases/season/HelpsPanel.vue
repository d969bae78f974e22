<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import { pointedAt, stillWanted } from '@keen/core/record';
import { filtersOf, viewOf } from '@keen/core/rig';
import { inHundred, shareOf, whatHelps, type Help } from '@keen/core/season';
import { splitFilters } from '@keen/core/sequence';
import { eveningDate, type YearNight } from '@keen/core/sky';
import { Button } from 'ant-design-vue';
import { computed, ref, shallowRef, watch } from 'vue';
import { latestOnly } from '../../common/latestOnly.ts';
import { problemText } from '../../common/outcome.ts';
import { coreSite } from '../../common/records.ts';
import { dayName } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { calculate, plainCopy } from '../../workers/index.ts';

/** What would help a project most, each by itself, against its share of the rig’s hours. */
const props = defineProps<{ project: ProjectRecord; clearFraction: number }>();
const club = useClub();
/** As low as is proposed; common practice, no source [°]. */
const LOWEST_DEG = 15;
const STEP_DEG = 10;

const open = computed(() =>
  club.projects
    .filter((p) => !p.archived && (stillWanted(p).length > 0 || p.id === props.project.id))
    .map((p) => ({ id: p.id, ownerId: p.ownerId, priority: p.season.priority, rigId: p.rigId })),
);
const onRig = (rigId: string) => open.value.filter((p) => p.rigId === rigId);
const found = shallowRef<ReturnType<typeof whatHelps> | null>(null);
const others = ref(0);
const busy = ref(false);
const trouble = ref('');
const ask = latestOnly();
watch(
  () => [props.project, props.clearFraction, JSON.stringify(open.value)] as const,
  () => {
    ask();
    [found.value, busy.value, trouble.value] = [null, false, ''];
  },
);

async function yearAt(siteId: string, minimumAltitudeDeg: number): Promise<readonly YearNight[]> {
  const site = club.sites.find((s) => s.id === siteId)!;
  const got = await calculate(
    'sky.year',
    plainCopy({
      site: coreSite(site),
      from: eveningDate(site.timeZone, club.now),
      nights: 365,
      ...pointedAt(props.project, null, []),
      minimumAltitudeDeg,
      darkness: 'astronomical' as const,
    }),
  );
  if (!got.ok) throw new Error(problemText(got.problem));
  return got.value.nights;
}
async function look() {
  const late = ask();
  const { project: p, clearFraction } = props;
  const rig = club.records.find((r) => r.id === p.rigId)!;
  [busy.value, trouble.value] = [true, ''];
  try {
    const left = stillWanted(p);
    const { narrow } = splitFilters(left.map((g) => g.filter));
    const minutes = (isNarrow: boolean) =>
      left.filter((g) => narrow.includes(g.filter) === isNarrow).reduce((s, g) => s + (g.left * g.exposureS) / 60, 0);
    const there = onRig(p.rigId);
    const doubled = there.map((o) => (o.id === p.id ? { ...o, priority: 2 * o.priority } : o));
    const toDeg = Math.max(LOWEST_DEG, p.minimumAltitudeDeg - STEP_DEG);
    const able = club.records.filter(
      (r) =>
        r.id !== p.rigId &&
        r.systems.some((s) => {
          const held = filtersOf(viewOf(r.setup, s.key));
          return left.every((g) => held.includes(g.filter));
        }),
    );
    const own = await yearAt(rig.siteId, p.minimumAltitudeDeg);
    const lower = toDeg < p.minimumAltitudeDeg ? { toDeg, nights: await yearAt(rig.siteId, toDeg) } : null;
    const rigs = [];
    for (const r of able) {
      const nights = r.siteId === rig.siteId ? own : await yearAt(r.siteId, p.minimumAltitudeDeg);
      const share = shareOf(p.id, [...onRig(r.id), { id: p.id, ownerId: p.ownerId, priority: p.season.priority }]);
      rigs.push({ rig: r.name, nights, clearFraction, share });
    }
    if (late()) return;
    others.value = there.length - 1;
    found.value = whatHelps({
      broadMinutes: minutes(false),
      narrowMinutes: minutes(true),
      deadline: p.season.deadline,
      own: { nights: own, clearFraction, share: shareOf(p.id, there) },
      shareDoubled: shareOf(p.id, doubled),
      lower,
      others: rigs,
    });
  } catch (e) {
    if (!late()) trouble.value = String(e instanceof Error ? e.message : e);
  }
  if (!late()) busy.value = false;
}
const when = (p50: string | null) => (p50 ? `, as likely as not by ${dayName(p50)}` : '');
const words = (h: Help): string => {
  if (h.kind === 'weight') return 'Twice its priority';
  if (h.kind === 'lines') return 'Its line filters while the Moon is up, the others without it';
  return h.kind === 'lower' ? `Taken down to ${h.toDeg}°` : `With ${h.rig}`;
};
</script>

<template>
  <div class="stack" data-test="helps">
    <Button v-if="!found" size="small" class="ask" :loading="busy" @click="look">What would help most?</Button>
    <template v-else>
      <p>
        {{
          others
            ? `With its share of the rig, which ${others} ${others === 1 ? 'other wants' : 'others want'} too`
            : 'With the rig to itself'
        }}: in {{ inHundred(found.now.chance) }} of 100 this season{{ when(found.now.p50) }}.
      </p>
      <ol v-if="found.helps.length">
        <li v-for="(h, i) in found.helps" :key="i">
          {{ words(h) }}: in {{ inHundred(h.chance) }} of 100{{ when(h.p50) }}.
        </li>
      </ol>
      <p v-else class="muted">
        Nothing that was tried makes it much likelier or sooner: more weight, lines under the Moon, a lower limit,
        another rig.
      </p>
      <p class="small muted">
        Each by itself. Shares by weight; clear nights on other sites as here; the object’s height is worth nothing
        here, only whether it is up.
      </p>
    </template>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
  </div>
</template>

<style scoped>
.ask {
  justify-self: start;
}
p,
ol {
  margin: 0;
}
</style>
