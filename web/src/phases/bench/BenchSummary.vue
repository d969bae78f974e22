<script setup lang="ts">
import { makeVerdict, phrase } from '@keen/core/phrases';
import { assess, AssessInput, assessInputOf } from '@keen/core/balance';
import { parseInput } from '@keen/core/calculation';
import { figure } from '@keen/core/quantities';
import { filtersOf } from '@keen/core/rig';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import FilterTile from '../../common/FilterTile.vue';
import RigHands from '../../common/RigHands.vue';
import SinceLastNight from '../../common/SinceLastNight.vue';
import UpkeepDue from '../../common/UpkeepDue.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** Every rig at a glance: how it stands in balance, in which train state, what waits. */
const club = useClub();
const cards = computed(() =>
  club.rigs.map((rig) => {
    const site = club.sites.find((s) => s.id === rig.siteId);
    const a = assess(parseInput(AssessInput, assessInputOf(rig.setup, site?.latitudeDeg ?? 45)));
    return { rig, site, a, here: rig.id === club.rig?.id };
  }),
);
const off = computed(() => cards.value.filter((c) => c.a.verdict.level !== 'good'));
const verdict = computed(() => {
  const here = cards.value.find((c) => c.here);
  if (!here) return null;
  return makeVerdict(here.a.verdict.level, phrase('screen.of', { name: here.rig.name }), ...here.a.verdict.phrases);
});
</script>

<template>
  <EmptyState v-if="cards.length === 0" title="No rig yet" lacks="rig"
    >Bench work begins with a rig: its parts, masses and places.</EmptyState
  >
  <template v-else>
    <VerdictLine
      v-if="verdict"
      :verdict="verdict"
      :notes="off.length > 1 ? [phrase('bench.several-off', { off: off.length, all: cards.length })] : []"
    />
    <SinceLastNight />
    <RigHands />
    <UpkeepDue />
    <div class="cards">
      <section v-for="c in cards" :key="c.rig.id" class="panel stack" :class="{ here: c.here }">
        <div class="row spread">
          <h2>{{ c.rig.name }}</h2>
          <span class="muted small">{{ c.site?.name }}</span>
        </div>
        <p :class="`level-${c.a.verdict.level}`">{{ units.verdict(c.a.verdict) }}</p>
        <table class="figures">
          <tbody>
            <tr>
              <td>Train state</td>
              <td class="num">{{ c.rig.words }}</td>
            </tr>
            <tr>
              <td>Optics</td>
              <td class="num">
                {{ units.length(c.rig.setup.focalLengthMm, 0) }} f/{{
                  figure(c.rig.setup.focalLengthMm / c.rig.setup.apertureMm, 1)
                }}
              </td>
            </tr>
            <tr>
              <td>Load</td>
              <td class="num">
                {{ units.mass(c.a.tubeMassKg, 1) }} of {{ units.mass(c.rig.setup.mount.ratedLoadKg, 0) }}
              </td>
            </tr>
          </tbody>
        </table>
        <p class="row"><FilterTile v-for="f in filtersOf(c.rig.setup)" :key="f" :name="f" /></p>
        <p class="row">
          <RouterLink to="/bench/balance" @click="club.selectRig(c.rig.id)">Balance it</RouterLink>
          <RouterLink to="/bench/rigs" @click="club.selectRig(c.rig.id)">Parts and history</RouterLink>
        </p>
      </section>
    </div>
  </template>
</template>

<style scoped>
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(320px, 1fr));
  gap: 14px;
}
.here {
  border-color: var(--accent);
}
</style>
