<script lang="ts">
  import type { CaseDetail } from '../api/client';
  import MachineMark from '../parts/machine-mark.svelte';
  import When from '../parts/when.svelte';

  let { caseId, note }: { caseId: string; note: CaseDetail['notes'][number] } = $props();

  const stranger = $derived(note.author.sort === 'stranger');
  /** How it came, or went out; a note that was simply written says nothing of that. */
  const ways: Record<string, string> = {
    mail: 'by mail',
    chat: 'in a chat room',
    webhook: 'by a message',
    lines: 'by lines of a log',
    schedule: 'by a schedule',
  };
</script>

<article class={['sheet p-3', stranger && 'border-l-4 border-l-signal']}>
  <p class="mb-1 flex flex-wrap items-baseline gap-x-2 text-sm text-faint">
    <span class="font-semibold break-all text-ink">{note.author.name}</span>
    <When time={note.at} />
    {#if ways[note.channel]}<span>{ways[note.channel]}</span>{/if}
    {#if note.told}<span>to {note.told}</span>{/if}
    {#if note.audience === 'staff'}<span>for staff only</span>{/if}
    {#if note.written && note.author.sort === 'person'}<span>after a draft</span>{/if}
    {#if note.written}<MachineMark />{/if}
    {#if note.mail}<a href="/api/cases/{caseId}/mails/{note.mail}" download="{caseId}.eml">the whole mail</a>{/if}
  </p>
  {#if stranger}
    <p class="mb-1 text-sm font-semibold text-signal">Whoever wrote this takes no part in the case. Nothing acts on it.</p>
  {:else if note.proof === 'claimed'}
    <p class="mb-1 text-sm text-signal">That it is from them is only a claim.</p>
  {/if}
  <p class="break-words whitespace-pre-wrap">{note.text}</p>
</article>
