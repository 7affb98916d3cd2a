<script lang="ts">
  import type { ApprovalSheet } from '../api/client';
  import KnownValue from '../documents/known-value.svelte';
  import MachineMark from '../parts/machine-mark.svelte';

  /** What models judged before people were asked, each with its reason and how sure it was. */
  let { known, caseId }: { known: ApprovalSheet['known']; caseId: string } = $props();

  type Judged = { reason: string; sure: number };
  const rest = (judged: object): Record<string, unknown> =>
    Object.fromEntries(Object.entries(judged).filter(([name]) => name !== 'reason' && name !== 'sure'));
</script>

<section class="sheet p-4" aria-labelledby="found">
  <h2 id="found" class="mb-1 flex flex-wrap items-baseline gap-x-3">What the agent found <MachineMark /></h2>
  {#each known as one (one.name)}
    {@const judged = one.value as Judged & Record<string, unknown>}
    <h3 class="mt-2 font-semibold">{one.name} <span class="font-normal text-faint">{Math.round(judged.sure * 100)} % sure</span></h3>
    {#if Object.keys(rest(judged)).length}<KnownValue value={rest(judged)} found={one.found} {caseId} />{/if}
    {#if judged.reason}<p class="text-sm text-faint">Because: {judged.reason}</p>{/if}
  {/each}
</section>
