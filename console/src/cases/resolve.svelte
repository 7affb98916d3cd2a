<script lang="ts">
  import { api, type ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';

  let { caseId, onResolved }: { caseId: string; onResolved: () => void } = $props();

  let how = $state('');
  let failure = $state<ApiError>();

  async function resolve(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    try {
      await api.resolve(caseId, how);
      onResolved();
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

<form onsubmit={resolve} class="sheet space-y-2 p-4">
  <h2>People have this in hand</h2>
  {#if failure}<FailureNote {failure} />{/if}
  <label for="how">What was done? <span class="text-faint">For staff; write the requester a note of their own.</span></label>
  <textarea id="how" class="field" rows="2" bind:value={how}></textarea>
  <button class="button" disabled={!how.trim()}>Resolve the case</button>
</form>
