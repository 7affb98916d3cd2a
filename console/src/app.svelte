<script lang="ts">
  import { Router } from 'sv-router';
  import './router';
  import { ApiError } from './api/client';
  import FailureNote from './parts/failure-note.svelte';
  import Frame from './shell/frame.svelte';
  import { session } from './shell/session.svelte';
  import SignIn from './shell/sign-in.svelte';

  let failure = $state<ApiError>();

  /** Pages for people who can’t sign in. */
  const everybody = location.pathname.startsWith('/form/');

  if (!everybody) {
    session.load().catch((error) => (failure = error as ApiError));
  }
</script>

{#if everybody}
  <main class="mx-auto max-w-xl px-4 py-6"><Router /></main>
{:else if failure}
  <div class="mx-auto mt-16 max-w-md"><FailureNote {failure} /></div>
{:else if session.value?.id}
  <Frame><Router /></Frame>
{:else if session.value}
  <SignIn />
{/if}
