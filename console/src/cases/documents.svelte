<script lang="ts">
  import { api, type CaseDocument, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import Files from '../documents/files.svelte';

  let {
    caseId,
    documents,
    missing,
    mayAdd,
    onAttached,
  }: { caseId: string; documents: CaseDocument[]; missing: string[]; mayAdd: boolean; onAttached: () => void } = $props();

  let failure = $state<ApiError>();
  let busy = $state(false);

  async function attach(event: Event): Promise<void> {
    const input = event.currentTarget as HTMLInputElement;
    const file = input.files?.[0];
    if (!file) {
      return;
    }
    busy = true;
    failure = undefined;
    try {
      await api.attach(caseId, file);
      onAttached();
    } catch (error) {
      failure = error as ApiError;
    } finally {
      busy = false;
      input.value = '';
    }
  }
</script>

<section aria-label="Documents" class="space-y-2">
  {#each missing as title (title)}<p class="border-l-4 border-l-accent pl-2">Not here yet: {title}.</p>{/each}
  {#if documents.length}
    <div class="sheet px-3 py-2"><Files {caseId} {documents} /></div>
  {/if}
  {#if mayAdd}
    <label class="inline-block cursor-pointer text-sm text-accent underline focus-within:outline-2 focus-within:outline-accent">
      {busy ? 'Attaching…' : 'Attach a document'}
      <input type="file" class="sr-only" disabled={busy} onchange={attach} />
    </label>
  {/if}
  {#if failure}<FailureNote {failure} />{/if}
</section>
