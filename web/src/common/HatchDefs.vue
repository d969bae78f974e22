<script setup lang="ts">
import { HATCH } from './filters.ts';

/** Hatches of the filter tiles, drawn once a page and referred to by every picture. */
</script>

<template>
  <svg width="0" height="0" style="position: absolute" aria-hidden="true">
    <defs>
      <pattern
        v-for="(d, name) in HATCH"
        :id="`hatch-${name}`"
        :key="name"
        width="6"
        height="6"
        patternUnits="userSpaceOnUse"
      >
        <path :d="d" stroke="rgb(255 255 255 / 0.35)" stroke-width="1.1" fill="none" />
      </pattern>
    </defs>
  </svg>
</template>
