<script lang="ts">
  import { api } from '../api/client';
  import { Loaded } from '../parts/loaded.svelte';
  import Waiting from '../parts/waiting.svelte';

  /** A page, drawn, with what no rehearsal touches set apart. */
  let { page }: { page: string } = $props();

  const loaded = new Loaded(() => api.untouchedDrawing(page));
  $effect(() => void loaded.refresh());
</script>

<Waiting {loaded}>
  {#snippet children({ svg })}
    <!-- The service writes this drawing with every text escaped; the list below says the same in words. -->
    <!-- eslint-disable-next-line svelte/no-at-html-tags -->
    <div class="drawing overflow-x-auto">{@html svg}</div>
  {/snippet}
</Waiting>
