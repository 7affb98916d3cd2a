<script lang="ts">
  import { api, type Connection, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import When from '../parts/when.svelte';
  import { session } from '../shell/session.svelte';

  let { connection }: { connection: Connection } = $props();

  let begun = $state<{ address: string; provider: string; client: string }>();
  let failure = $state<ApiError>();
  let asking = $state(false);

  async function begin(): Promise<void> {
    asking = true;
    failure = undefined;
    try {
      begun = await api.beginSignIn(connection.name);
      sessionStorage.setItem('signing-in', connection.name);
    } catch (error) {
      failure = error as ApiError;
    } finally {
      asking = false;
    }
  }
</script>

<p class="mt-1 flex flex-wrap items-baseline gap-x-3 text-sm">
  {#if connection.signedInBy}
    <span>Signed in there by {connection.signedInBy}, <When time={connection.signedInAt!} /></span>
  {:else}
    <span class="font-semibold">Nobody has signed in there yet: calls aren’t sent.</span>
  {/if}
  {#if session.is('admin') && !begun}
    <button class="cursor-pointer text-accent underline" disabled={asking} onclick={begin} aria-label="Sign in at {connection.name}"
      >{connection.signedInBy ? 'Sign in again' : 'Sign in there'}</button
    >
  {/if}
</p>
{#if begun}
  <p class="mt-1 text-sm">
    <!-- eslint-disable-next-line svelte/no-navigation-without-resolve -->
    <a class="text-accent underline" href={begun.address} rel="noreferrer">Go to {begun.provider}</a>, sign in as whom the service shall act
    there, and come back. It is known there as <code class="font-mono">{begun.client}</code>.
  </p>
{/if}
{#if failure}<FailureNote {failure} />{/if}
