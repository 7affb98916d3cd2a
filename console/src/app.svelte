<script lang="ts">
  import { Router } from 'sv-router';
  import './router';
  import { Trouble } from './api/client';
  import TroubleNote from './parts/trouble-note.svelte';
  import Frame from './shell/frame.svelte';
  import { session } from './shell/session.svelte';
  import SignIn from './shell/sign-in.svelte';

  let trouble = $state<Trouble>();

  session.load().catch((error) => (trouble = error as Trouble));
</script>

{#if trouble}
  <div class="mx-auto mt-16 max-w-md"><TroubleNote {trouble} /></div>
{:else if session.value?.id}
  <Frame><Router /></Frame>
{:else if session.value}
  <SignIn />
{/if}
