<script lang="ts">
  import { api, type Actor, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';

  /** Who takes part in a case beside its requester: their mails are no stranger's. */
  let { caseId, people, onChanged }: { caseId: string; people: Actor[]; onChanged: () => void } = $props();

  let person = $state('');
  let failure = $state<ApiError>();

  async function change(of: () => Promise<unknown>): Promise<void> {
    failure = undefined;
    try {
      await of();
      person = '';
      onChanged();
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

<details class="text-sm">
  <summary class="cursor-pointer">
    {people.length ? `Takes part: ${people.map((one) => one.name).join(', ')}` : 'Nobody else takes part'}
  </summary>
  <div class="mt-2 space-y-2">
    {#each people as one (one.id)}
      <p class="flex items-baseline gap-3">
        {one.name}
        <button class="button" onclick={() => change(() => api.unnamePerson(caseId, one.id))}>No longer</button>
      </p>
    {/each}
    <form
      class="flex flex-wrap items-end gap-3"
      onsubmit={(event) => {
        event.preventDefault();
        void change(() => api.namePerson(caseId, person.trim()));
      }}
    >
      <div>
        <label class="label" for="takes-part">Who else takes part (their name here)</label>
        <input id="takes-part" class="field" bind:value={person} />
      </div>
      <button class="button" disabled={!person.trim()}>Name them</button>
    </form>
    <p class="text-faint">What they write by mail about this case then counts as theirs, not as a stranger’s.</p>
    {#if failure}<FailureNote {failure} />{/if}
  </div>
</details>
