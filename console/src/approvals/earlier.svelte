<script lang="ts">
  import type { ApprovalSheet } from '../api/client';
  import When from '../parts/when.svelte';

  /** What happened before with whoever asks. */
  let { earlier, name, caseVisible }: { earlier: ApprovalSheet['earlier']; name: string; caseVisible: boolean } = $props();
</script>

<section class="sheet p-4" aria-labelledby="before">
  <h2 id="before" class="mb-1">Before, with {name}</h2>
  <ul class="space-y-1">
    {#each earlier as one (one.caseId)}
      <li class="text-sm">
        {#if caseVisible}<a href="/cases/{one.caseId}">{one.caseId}</a>{:else}{one.caseId}{/if}
        {one.kind}, {one.state.replaceAll('-', ' ')}, <span class="text-faint"><When time={one.opened} /></span>
        {#each one.did as did, index (index)}<span class="block pl-3 font-semibold">{did}</span>{/each}
      </li>
    {:else}<li class="text-faint">Nothing yet.</li>{/each}
  </ul>
</section>
