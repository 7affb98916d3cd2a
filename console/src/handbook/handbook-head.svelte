<script lang="ts">
  import type { HandbookDraft } from './draft.svelte';

  let { draft }: { draft?: HandbookDraft } = $props();
</script>

<div class="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1">
  <h1><a href="/handbook" class="text-ink no-underline">Handbook</a></h1>
  {#if draft?.draft}
    <span class="text-faint">
      over edition {draft.draft.edition},
      {draft.draft.changes === 0
        ? 'nothing changed'
        : draft.draft.changes === 1
          ? 'one file changed'
          : `${draft.draft.changes} files changed`}
    </span>
  {/if}
  <span class="ml-auto flex flex-wrap gap-x-4 gap-y-1">
    <a href="/handbook/start">Starting points</a>
    <a href="/handbook/import">Import tools</a>
    <a href="/handbook/rehearsals">Rehearsals</a>
    <a href="/handbook/tries">Try out</a>
    <a href="/handbook/look-back">Look back</a>
    <a href="/handbook/editions">Editions</a>
    <a href="/handbook/changes" class={draft?.draft?.changes ? 'font-semibold' : ''}>Compare and publish</a>
  </span>
</div>
