<script setup lang="ts">
import { comingEvening } from '@keen/core/sky';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { coreSite } from '../../common/records.ts';
import { clock, dayName } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';

/** Once the Sun has risen on the night that is looked at: says so, and leads to the one to come. */
const club = useClub();
const coming = computed(() => (club.site ? comingEvening(coreSite(club.site), club.now) : ''));
const passed = computed(() => club.nightNow !== null && coming.value !== club.night);
</script>

<template>
  <p v-if="passed" class="row level-caution" data-test="night-passed">
    The Sun has risen on the night of {{ dayName(club.night) }}: it is {{ clock(club.now, club.site!.timeZone) }} there.
    <Button size="small" @click="club.goToNight(coming)">To the coming night, {{ dayName(coming) }}</Button>
  </p>
</template>
