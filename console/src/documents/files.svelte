<script lang="ts">
  import type { CaseDocument } from '../api/client';
  import Reading from './reading.svelte';

  /** The files of a case, each of which opens where it stands. */
  let { caseId, documents }: { caseId: string; documents: CaseDocument[] } = $props();

  let opened = $state('');
</script>

<ul>
  {#each documents as document (document.id)}
    <li class="border-b border-line py-1.5 last:border-0">
      <p class="flex flex-wrap items-baseline gap-x-3">
        <a href="/api/cases/{caseId}/documents/{document.id}" download class="min-w-0 truncate">{document.name}</a>
        <span class="ml-auto text-sm text-faint">{Math.ceil(document.size / 1024)} KB, {document.author.name}</span>
        <button
          type="button"
          class="cursor-pointer text-sm text-accent underline"
          aria-expanded={opened === document.id}
          onclick={() => (opened = opened === document.id ? '' : document.id)}>{opened === document.id ? 'close' : 'what is in it'}</button
        >
        <a href="/cases/{caseId}/documents/{document.id}" class="text-sm">on a page of its own</a>
      </p>
      {#if opened === document.id}<div class="mt-1 border-l-2 border-line pl-3"><Reading {caseId} documentId={document.id} /></div>{/if}
    </li>
  {/each}
</ul>
