<script setup lang="ts">
import { watch } from 'vue';
import { useSession } from '../stores/session.ts';
import { download } from './download.ts';
import { personalKey } from './personal.ts';
import { forgetUnread, lookForUnreadDrafts, unreadDrafts } from './unreadDrafts.ts';

/** Tells of drafts of another version, until each is taken as a file or let go. */
const session = useSession();
watch(() => session.member?.id, lookForUnreadDrafts, { immediate: true });
const save = (key: string) =>
  download(
    `${key.slice(personalKey('').length).replace(/[^\w-]+/g, '-')}.json`,
    localStorage.getItem(key) ?? '',
    'application/json',
  );
</script>

<template>
  <div v-for="key in unreadDrafts" :key="key" class="strip" role="alert" data-test="unread-draft">
    Something typed in this browser and not saved was begun under another version, and cannot be shown here.
    <button type="button" @click="save(key)">Save it as a file</button>
    <button type="button" @click="forgetUnread(key)">Forget it</button>
  </div>
</template>
