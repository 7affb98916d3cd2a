<script lang="ts">
  import { diffWordsWithSpace } from 'diff';

  let { before, after }: { before: string; after: string } = $props();

  const parts = $derived(diffWordsWithSpace(before, after));
</script>

<p class="whitespace-pre-wrap" aria-label="Difference">
  {#each parts as part, index (index)}{#if part.added}<ins class="bg-gone decoration-1">{part.value}</ins>{:else if part.removed}<del
        class="text-faint">{part.value}</del
      >{:else}{part.value}{/if}{/each}
</p>
