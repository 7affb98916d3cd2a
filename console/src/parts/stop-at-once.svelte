<script lang="ts">
  import { api, type Stop } from '../api/client';
  import { session } from '../shell/session.svelte';
  import WithReason from './with-reason.svelte';

  /** Stops an agent, tool, connection or page at once, everywhere. */
  let { what, name }: { what: Stop['what']; name: string } = $props();

  let done = $state('');
</script>

{#if done}
  <p role="status" class="text-sm">The {what} ‘{done}’ stands still. Today says so, and lets it go on.</p>
{:else if session.is('engineer', 'admin')}
  <WithReason
    label="Stop the {what} ‘{name}’ at once…"
    ask="Why? Everybody at the desk reads this."
    does="Stop it"
    work={(why) => api.stop(what, name, why)}
    onDone={() => (done = name)}
  />
{/if}
