<script setup lang="ts">
import { useSession } from '../../stores/session.ts';

/** Records as a file: everybody’s own, and the whole club for its stewards. */
const session = useSession();
</script>

<template>
  <section class="panel stack" data-test="archive">
    <h2>Records as a file</h2>
    <p class="small muted">
      A zip of tables as JSON and as CSV for a spreadsheet, with the small pictures of frames. No password is in it.
    </p>
    <div class="row">
      <a class="button" href="/api/session/archive" download>Your own records</a>
      <a v-if="session.isSteward" class="button" href="/api/club/archive" download>{{
        session.alone ? 'Everything here' : 'The whole club'
      }}</a>
    </div>
    <p v-if="session.isSteward" class="small muted">
      Read in elsewhere with <code>npm run club:in</code>, also beside other clubs; whoever runs that machine does it.
    </p>
  </section>
</template>
