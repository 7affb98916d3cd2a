<script lang="ts">
  import Difference from '../approvals/difference.svelte';
  import type { HandbookDraft } from './draft.svelte';

  let { draft }: { draft: HandbookDraft } = $props();

  let shown = $state(false);
</script>

<div role="alert" class="sheet border-l-4 border-l-ink p-3">
  <p class="mb-2">
    <span class="font-semibold">This file was published with another text since you began.</span>
    Nothing is overwritten until you say so.
  </p>
  <div class="flex flex-wrap gap-3">
    <button class="button" aria-expanded={shown} onclick={() => (shown = !shown)}>{shown ? 'Hide' : 'See'} the difference</button>
    <button class="button" onclick={() => draft.keepMine(draft.path)}>Keep mine over it</button>
    <button class="button" onclick={() => draft.giveUp(draft.path)}>Take theirs</button>
  </div>
  {#if shown}<div class="mt-3 max-h-64 overflow-auto font-mono text-sm">
      <Difference before={draft.published ?? ''} after={draft.text} />
    </div>{/if}
</div>
