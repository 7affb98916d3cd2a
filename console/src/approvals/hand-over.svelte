<script lang="ts">
  import { api, type ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import type { Decision } from './decision.svelte';

  /** Hands the approval to somebody else who may answer it. */
  let { decision }: { decision: Decision } = $props();

  let to = $state('');
  let reason = $state('');
  let failure = $state<ApiError>();

  async function hand(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    failure = undefined;
    try {
      decision.take(await api.hand(decision.sheet!.summary.id, { to, reason }));
      to = reason = '';
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

{#if decision.sheet?.mayHandTo.length}
  <details class="text-sm">
    <summary class="cursor-pointer text-faint">Hand it to somebody else</summary>
    <form class="mt-2 flex flex-wrap gap-2" onsubmit={hand}>
      <select class="field w-auto" aria-label="To whom" bind:value={to} required>
        <option value="">to whom…</option>
        {#each decision.sheet.mayHandTo as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
      </select>
      <input class="field min-w-0 grow basis-40" aria-label="Why" placeholder="why, if that helps" maxlength="2000" bind:value={reason} />
      <button class="button">Hand it over</button>
    </form>
    {#if failure}<FailureNote {failure} />{/if}
  </details>
{/if}
