<script lang="ts">
  import { api, type CaseDocument, Trouble } from '../api/client';
  import TroubleNote from '../parts/trouble-note.svelte';

  let { caseId, documents, mayAdd, onAttached }: { caseId: string; documents: CaseDocument[]; mayAdd: boolean; onAttached: () => void } =
    $props();

  let trouble = $state<Trouble>();
  let busy = $state(false);

  async function attach(event: Event): Promise<void> {
    const input = event.currentTarget as HTMLInputElement;
    const file = input.files?.[0];
    if (!file) {
      return;
    }
    busy = true;
    trouble = undefined;
    try {
      await api.attach(caseId, file);
      onAttached();
    } catch (error) {
      trouble = error as Trouble;
    } finally {
      busy = false;
      input.value = '';
    }
  }
</script>

<section aria-label="Documents" class="space-y-2">
  {#if documents.length}
    <ul class="sheet px-3 py-2">
      {#each documents as document (document.id)}
        <li class="flex gap-3">
          <a href="/api/cases/{caseId}/documents/{document.id}" download class="min-w-0 truncate">{document.name}</a>
          <span class="ml-auto text-sm text-faint">{Math.ceil(document.size / 1024)} KB, {document.author.name}</span>
        </li>
      {/each}
    </ul>
  {/if}
  {#if mayAdd}
    <label class="inline-block cursor-pointer text-sm text-accent underline focus-within:outline-2 focus-within:outline-accent">
      {busy ? 'Attaching…' : 'Attach a document'}
      <input type="file" class="sr-only" disabled={busy} onchange={attach} />
    </label>
  {/if}
  {#if trouble}<TroubleNote {trouble} />{/if}
</section>
