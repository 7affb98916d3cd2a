<script lang="ts">
  import { api, type Stop } from '../api/client';
  import WithReason from '../parts/with-reason.svelte';
  import When from '../parts/when.svelte';

  /** What people have stopped at once, and letting it go on. */
  let { stops, onChanged }: { stops: Stop[]; onChanged: () => void } = $props();
</script>

{#if stops.length}
  <h2 class="mb-2">Stopped by people</h2>
  <div class="sheet mb-6">
    {#each stops as stop (stop.what + ' ' + stop.name)}
      <div class="border-b border-l-4 border-line border-l-signal px-3 py-2 last:border-b-0">
        <p><span class="font-semibold">The {stop.what} ‘{stop.name}’</span> stands still: {stop.reason}</p>
        <p class="text-sm text-faint">{stop.by.name}, <When time={stop.at} /></p>
        {#if stop.mayLift}
          <WithReason
            label="Let it go on"
            ask="What has been mended?"
            does="Let it go on"
            work={(why) => api.liftStop(stop.what, stop.name, why)}
            onDone={onChanged}
          />
        {/if}
      </div>
    {/each}
  </div>
{/if}
