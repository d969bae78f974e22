<script setup lang="ts">
import { RouterLink } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
</script>

<template>
  <EmptyState title="There is no such page">
    The address may have changed. Press <kbd>/</kbd> to find a screen, or go to
    <RouterLink to="/night">tonight</RouterLink>.
  </EmptyState>
</template>
