<script lang="ts">
  import { api, type ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';

  let { caseId, staff, onWritten }: { caseId: string; staff: boolean; onWritten: () => void } = $props();

  let text = $state('');
  let forStaff = $state(false);
  let failure = $state<ApiError>();

  async function write(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    try {
      await api.note(caseId, text, forStaff);
      text = '';
      failure = undefined;
      onWritten();
    } catch (error) {
      failure = error as ApiError;
    }
  }
</script>

<form onsubmit={write} class="space-y-2">
  {#if failure}<FailureNote {failure} />{/if}
  <label class="sr-only" for="note">A note</label>
  <textarea id="note" class="field" rows="2" placeholder="Write a note" bind:value={text}></textarea>
  <div class="flex items-center gap-4">
    <button class="button" disabled={!text.trim()}>Write</button>
    {#if staff}<label class="flex items-center gap-2"><input type="checkbox" bind:checked={forStaff} /> for staff only</label>{/if}
  </div>
</form>
