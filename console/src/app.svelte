<script lang="ts">
  import { Router } from 'sv-router';
  import './router';
  import { ApiError } from './api/client';
  import FailureNote from './parts/failure-note.svelte';
  import Frame from './shell/frame.svelte';
  import { session } from './shell/session.svelte';
  import SignIn from './shell/sign-in.svelte';

  let failure = $state<ApiError>();

  session.load().catch((error) => (failure = error as ApiError));
</script>

{#if failure}
  <div class="mx-auto mt-16 max-w-md"><FailureNote {failure} /></div>
{:else if session.value?.id}
  <Frame><Router /></Frame>
{:else if session.value}
  <SignIn />
{/if}
