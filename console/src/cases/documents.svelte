<script lang="ts">
  import { api, type CaseDocument, ApiError } from '../api/client';
  import FailureNote from '../parts/failure-note.svelte';
  import Reading from './reading.svelte';

  let { caseId, documents, mayAdd, onAttached }: { caseId: string; documents: CaseDocument[]; mayAdd: boolean; onAttached: () => void } =
    $props();

  let failure = $state<ApiError>();
  let busy = $state(false);
  let opened = $state('');

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
  {#if documents.length}
    <ul class="sheet px-3 py-2">
      {#each documents as document (document.id)}
        <li class="border-b border-line py-1.5 last:border-0">
          <p class="flex flex-wrap items-baseline gap-x-3">
            <a href="/api/cases/{caseId}/documents/{document.id}" download class="min-w-0 truncate">{document.name}</a>
            <span class="ml-auto text-sm text-faint">{Math.ceil(document.size / 1024)} KB, {document.author.name}</span>
            <button
              type="button"
              class="cursor-pointer text-sm text-accent underline"
              aria-expanded={opened === document.id}
              onclick={() => (opened = opened === document.id ? '' : document.id)}
              >{opened === document.id ? 'close' : 'what is in it'}</button
            >
          </p>
          {#if opened === document.id}<div class="mt-1 border-l-2 border-line pl-3"><Reading {caseId} documentId={document.id} /></div>{/if}
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
  {#if failure}<FailureNote {failure} />{/if}
</section>
