<script lang="ts">
  import { api, type CaseSummary, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import { session } from '../shell/session.svelte';

  /** Who is to see to a case, and giving it to somebody else. */
  let { summary, onChanged }: { summary: CaseSummary; onChanged: () => void } = $props();

  let who = $state('');
  let failure = $state<ApiError>();
  const mine = $derived(`person:${session.value?.id}`);

  async function give(owner: string): Promise<void> {
    failure = undefined;
    try {
      await api.own(summary.id, owner);
      who = '';
      onChanged();
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

<details class="text-sm">
  <summary class="cursor-pointer">
    {summary.owner ? `${summary.owner.name} to see to it` : 'Nobody in particular is to see to it'}
  </summary>
  <div class="mt-2 space-y-2">
    <p class="flex flex-wrap gap-3">
      {#if summary.owner?.id !== session.value?.id}<button class="button" onclick={() => give(mine)}>I see to it</button>{/if}
      {#if summary.owner}<button class="button" onclick={() => give('')}>Nobody in particular</button>{/if}
    </p>
    <form
      class="flex flex-wrap items-end gap-3"
      onsubmit={(event) => {
        event.preventDefault();
        void give(who.trim());
      }}
    >
      <div>
        <label class="label" for="owner">Somebody else (a group, or person:NAME)</label>
        <input id="owner" class="field" bind:value={who} />
      </div>
      <button class="button" disabled={!who.trim()}>Give it to them</button>
    </form>
    {#if failure}<FailureNote {failure} />{/if}
  </div>
</details>
