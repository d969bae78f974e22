<script setup lang="ts">
import { Button, Input } from 'ant-design-vue';
import { ref } from 'vue';

/** Ways of this night kept aside under a name: any of them is looked at beside the plan, and taken or let go. */
defineProps<{ ways: readonly { name: string; legs: readonly unknown[] }[] }>();
const emit = defineEmits<{ keep: [name: string]; beside: [name: string]; forget: [name: string] }>();
const name = ref('');
function keep() {
  emit('keep', name.value);
  name.value = '';
}
</script>

<template>
  <details data-test="ways">
    <summary>Versions: {{ ways.length ? `${ways.length} kept aside` : 'none kept aside' }}</summary>
    <div class="stack">
      <div v-for="w in ways" :key="w.name" class="row spread">
        <span
          >{{ w.name }}
          <span class="muted small">{{ w.legs.length }} {{ w.legs.length === 1 ? 'leg' : 'legs' }}</span></span
        >
        <span class="row">
          <Button size="small" @click="emit('beside', w.name)">Beside the plan</Button>
          <Button size="small" type="text" :aria-label="`Forget ${w.name}`" @click="emit('forget', w.name)">✕</Button>
        </span>
      </div>
      <form class="row" @submit.prevent="keep">
        <Input
          v-model:value="name"
          size="small"
          :maxlength="40"
          aria-label="Name of this version"
          placeholder="a name"
        />
        <Button size="small" html-type="submit">Keep this one aside</Button>
      </form>
      <p class="muted small">Kept in this browser; what is saved is what stands in the plan.</p>
    </div>
  </details>
</template>

<style scoped>
form {
  flex-wrap: nowrap;
}
.stack {
  margin-top: 6px;
}
</style>
